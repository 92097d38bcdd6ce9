import { upperFirst } from '../shell/format.ts';
import type { ClayBatchView, ClayState } from '../../contract/clay.ts';
import { stateWords } from './clay-words.ts';

const TONE: Record<ClayState, { fill: string; line: string }> = {
  bag: { fill: 'none', line: '#8d8468' },
  rinsed: { fill: 'none', line: '#8d8468' },
  soaking: { fill: '#bfdedb', line: '#0e5a63' },
  drained: { fill: '#f5e8c8', line: '#7a590e' },
  ready: { fill: '#dcebdf', line: '#2f6b45' },
  leached: { fill: '#dcebdf', line: '#2f6b45' },
  unleached: { fill: '#ecd9cb', line: '#a24e2c' },
  usedUp: { fill: '#ebe6da', line: '#8d8468' },
};

/** The batches side by side, newest first, which is also the order of the work. */
export function BatchSwitcher({
  batches,
  chosenId,
  choose,
}: {
  batches: readonly ClayBatchView[];
  chosenId: string;
  choose(id: string): void;
}) {
  return (
    <div className="batches" role="group" aria-label="Batches of clay">
      {batches.map((batch) => (
        <button
          key={batch.id}
          type="button"
          className={batch.id === chosenId ? 'on' : ''}
          aria-pressed={batch.id === chosenId}
          onClick={() => choose(batch.id)}
        >
          <svg
            viewBox="0 0 24 24"
            fill={TONE[batch.state].fill}
            stroke={TONE[batch.state].line}
            strokeWidth={1.6}
            aria-hidden
          >
            <circle cx="7.5" cy="15.5" r="4.6" />
            <circle cx="16.8" cy="16.5" r="3.8" />
            <circle cx="13" cy="7.2" r="3.9" />
          </svg>
          <span>{upperFirst(batch.values.name)}</span> <small>{stateWords(batch)}</small>
        </button>
      ))}
    </div>
  );
}
