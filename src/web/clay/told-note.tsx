import Button from 'react-bootstrap/Button';
import type { ClayBatchView } from '../../contract/clay.ts';
import { useClayAct } from './send-clay.ts';

/** Other growers' bags a batch begins from, told apart from one's own, and let go at a press. */
export function ToldNote({ batch }: { batch: ClayBatchView }) {
  const { send, busy } = useClayAct();
  if (batch.told.length === 0) return null;
  const bags = batch.told.map(({ name, readings }) => `${name} (${readings} readings)`);
  const one = bags.length === 1;
  return (
    <small className="told-note">
      It begins a little from {one ? 'another grower’s bag' : 'other growers’ bags'}: {bags.join(', ')}.{' '}
      <Button
        variant="link"
        disabled={busy}
        onClick={() => void send({ kind: 'letGoTold', clayId: batch.id }, 'It begins from your own again')}
      >
        Let {one ? 'it' : 'them'} go
      </Button>
    </small>
  );
}
