import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import { mL } from '../shell/format.ts';
import type { SendStep } from './send-step.ts';
import { UndoKey } from './undo-key.tsx';

/** A batch that is closed: poured, used up or thrown out. */
export function ClosedNow({ view, send, onUndo }: { view: BatchView; send: SendStep; onUndo(): void }) {
  const left = view.leftMl >= 20;
  return (
    <section className="now" aria-label="Now">
      <small>{view.status === 'abandoned' ? 'This batch' : `Poured for ${view.potCodes.length} pot${view.potCodes.length === 1 ? '' : 's'} so far`}</small>
      <div className="say">{view.status === 'abandoned' ? 'was thrown out' : left ? `${mL(view.leftMl)} left` : 'Used up'}</div>
      <div className="d-flex gap-2 flex-wrap">
        {view.status === 'abandoned' ? (
          <Link className="btn btn-clay btn-lg" to={view.mixKey ? `/bench/new?mix=${encodeURIComponent(view.mixKey)}` : '/bench/new'}>
            Start again
          </Link>
        ) : (
          <Link className="btn btn-clay btn-lg" to="/round">
            To the round
          </Link>
        )}
        {left && (
          <Button variant="outline-light" size="lg" onClick={() => void send({ kind: 'empty', to: 'tolerant garden plants' }, 'Leftover poured out')}>
            The rest went to the garden
          </Button>
        )}
      </div>
      {view.potCodes.length === 0 && <UndoKey onUndo={onUndo} />}
    </section>
  );
}
