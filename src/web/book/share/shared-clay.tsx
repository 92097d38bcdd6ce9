import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { ClayRoom } from '../../../contract/clay.ts';
import type { ShareFile } from '../../../contract/share.ts';
import { litres } from '../../shell/format.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { useAct } from '../../shell/use-act.ts';

export type ClayFile = Extract<ShareFile, { kind: 'clay' }>;
type Props = { file: ClayFile; batches: ClayRoom['batches']; done(): void };

/** What another grower's bag was found to do: a bag of one's own of the same clay may begin from it. */
export function SharedClay({ file, batches, done }: Props) {
  const { send, problems, busy } = useAct('/api/clay/acts');
  const mine = batches.filter(({ retiredOn, state }) => retiredOn === null && state !== 'usedUp');
  const [clayId, setClay] = useState('');
  const { values, found } = file;
  const keep = async () => {
    const bag = { ...found, name: values.name };
    if (await send({ kind: 'told', clayId, bag }, `${values.name} counts for it`)) done();
  };
  return (
    <div className="brought" role="status">
      <div>
        <b>What a bag of clay was found to do: {values.name}</b>
      </div>
      <ul className="mb-0">
        <li>
          {litres(values.volumeL)} of clay{grainOf(values)}
        </li>
        <li>
          {found.readings} readings, {found.changes} {found.changes === 1 ? 'change' : 'changes'} of water
        </li>
        <li>
          A bag of yours of the same clay begins from it, told apart from your own: a quarter of what bags differ in, at
          the most. Your own bags and readings outweigh it.
        </li>
      </ul>
      <LabelledField label="Which of your bags is this clay?" error={Object.values(problems)[0]}>
        {(a) => (
          <Form.Select {...a} value={clayId} onChange={(e) => setClay(e.target.value)}>
            <option value="">choose …</option>
            {mine.map(({ id, values: own }) => (
              <option key={id} value={id}>
                {own.name}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      {mine.length === 0 && (
        <p className="small mb-2">You have no bag that is not used up. Add yours under Clay first.</p>
      )}
      <div className="d-flex gap-2">
        <Button disabled={busy || clayId === ''} onClick={() => void keep()}>
          Begin from it
        </Button>
        <Button variant="outline-secondary" onClick={done}>
          Leave it
        </Button>
      </div>
    </div>
  );
}

const grainOf = ({ grainLowMm, grainHighMm }: ClayFile['values']) =>
  grainLowMm === null && grainHighMm === null ? '' : `, ${grainLowMm ?? '?'} to ${grainHighMm ?? '?'} mm`;
