import Button from 'react-bootstrap/Button';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { useActs } from '../shell/acts.tsx';
import { dayMonth } from '../shell/format.ts';
import { signed, stateWords } from './meter-sheet.tsx';
import { TaintedReadings } from './tainted-readings.tsx';

/** The pen that taints its readings, or the one whose check is due next. */
export function TaintCard({
  room,
  check,
  choose,
}: {
  room: ShelfRoom;
  check(meterId: string): void;
  choose(meterId: string): void;
}) {
  const { undo } = useActs();
  const pens = room.meters.filter((m) => m.retiredOn === null && m.values.kind === 'pen');
  const off = pens.find((m) => m.taints.some((t) => t.to === null));
  if (!off) {
    const next = [...pens].sort((a, b) => ((a.dueOn ?? '') < (b.dueOn ?? '') ? -1 : 1))[0];
    return (
      <section className="card-cell" aria-label="The next check">
        <header>
          <h2>No pen is marked as off</h2>
        </header>
        {next ? (
          <>
            <p className="mb-0">
              {next.values.name}: {stateWords(next, room.today)}.
            </p>
            <p className="small mb-0">
              When one is found off, what it read since its last good check is drawn hollow everywhere and counts less.
            </p>
            <div>
              <Button onClick={() => check(next.id)}>Check it now</Button>
            </div>
          </>
        ) : (
          <p className="small mb-0">Add a pen, and its checks stand here.</p>
        )}
      </section>
    );
  }
  const taint = off.taints.find((t) => t.to === null)!;
  return (
    <section className="card-cell" aria-label="What a pen taints">
      <header>
        <h2>What the {off.values.name} taints</h2>
      </header>
      <p className="mb-0">
        <b>
          {taint.readings} readings{taint.fromOn ? ` since ${dayMonth(taint.fromOn)}` : ''} are drawn hollow.
        </b>{' '}
        {taint.offBy !== null && (
          <span className="late-words nowrap">
            about {off.values.quantity === 'pH' ? signed(taint.offBy, 1) : `${signed(100 * taint.offBy, 0)} %`}
          </span>
        )}
      </p>
      <TaintedReadings meter={off} today={room.today} compact />
      <div className="d-flex gap-2 flex-wrap">
        <Button onClick={() => check(off.id)}>Check it now</Button>
        <Button variant="outline-secondary" onClick={() => void undo(taint.markId)}>
          Undo, draw them solid
        </Button>
        <Button variant="outline-secondary" onClick={() => choose(off.id)}>
          Its batches
        </Button>
      </div>
    </section>
  );
}
