import { use } from 'react';
import type { BatchView } from '../../contract/bench.ts';
import type { PlanAct } from '../../contract/shell.ts';
import { useActs } from '../shell/acts.tsx';
import { newId } from '../shell/api.ts';
import { NBSP } from '../shell/format.ts';
import { LocalPen } from '../shell/use-dip.ts';

const WAITS = {
  dissolve: { label: `dissolve, 5${NBSP}min`, words: 'Let the stock dissolve', minutes: 5 },
  again: { label: `read again, 15${NBSP}min`, words: 'Read the pH again', minutes: 15 },
  tomorrow: { label: 'read again tomorrow', words: 'Read the pH again before use', minutes: 24 * 60 },
} as const;
export type Wait = keyof typeof WAITS | 'hold';

/** Waits of the bench put on the clocks: they run in every room and through a reload. */
export function WaitButtons({ view, waits }: { view: Pick<BatchView, 'id' | 'holdMinutes'>; waits: readonly Wait[] }) {
  const { put } = useActs();
  // The practice bucket is nobody's: no clock runs for it.
  const practising = use(LocalPen) !== undefined;
  const start = async (wait: Wait) => {
    const { words, minutes } =
      wait === 'hold' ? { words: 'Soak: hold, then drain', minutes: view.holdMinutes ?? 30 } : WAITS[wait];
    const id = newId();
    const body: PlanAct = {
      kind: 'startClock',
      clockId: newId(),
      subjectKind: 'batch',
      subjectId: view.id,
      words,
      minutes,
      origin: 'bench',
    };
    await put(
      { id, url: `/api/shell/plans/acts/${id}`, body, words: `Clock: ${words}` },
      { toast: `Clock started: ${words}` },
    );
  };
  if (practising) return null;
  return (
    <>
      {waits.map((wait) => (
        <button key={wait} type="button" onClick={() => void start(wait)}>
          Clock: {wait === 'hold' ? `hold, ${view.holdMinutes ?? 30}${NBSP}min` : WAITS[wait].label}
        </button>
      ))}
    </>
  );
}
