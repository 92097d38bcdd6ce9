import { useEffect, useMemo, useRef, useState } from 'react';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { useServerNow } from '../shell/use-server-now.ts';
import { answerLeach, leachWish, type LeachAnswer } from '../../core/clay/index.ts';

/**
 * What is known of a batch's leach by now: the fit, what comes, and the ways to the gate; worked out in a worker whenever something was read or
 * changed, and each minute. Undefined until the first answer.
 */
export function useLeach(
  room: ClayRoom,
  batch: ClayBatchView,
): { nowMs: number; still: ClayRoom['waters'][number] | undefined; answer: LeachAnswer | undefined } {
  const ticking = useServerNow(true);
  // The minute is enough: the model need not run every second.
  const nowMs = Math.max(Date.parse(room.now), Math.floor(ticking / 60_000) * 60_000);
  const still = room.waters.find((w) => w.id === batch.leach?.waterId) ?? room.waters.find((w) => w.kind === 'still');
  const [nowL, perDayL] = [still?.stillNowL ?? null, still?.perDayL ?? 0];
  const wish = useMemo(
    () => leachWish(batch, nowMs, room.scale, nowL === null ? null : { nowL, perDayL }),
    [batch, nowMs, room.scale, nowL, perDayL],
  );
  return { nowMs, still, answer: useAnswer(wish) };
}

function useAnswer(wish: ReturnType<typeof leachWish>): LeachAnswer | undefined {
  const [answer, setAnswer] = useState<LeachAnswer>();
  const worker = useRef<Worker | undefined>(undefined);
  const asking = useRef(0);
  useEffect(() => {
    const number = ++asking.current;
    if (typeof Worker === 'undefined') return setAnswer(answerLeach(wish));
    worker.current ??= new Worker(new URL('./leach-worker.ts', import.meta.url), { type: 'module' });
    const hear = (event: MessageEvent<{ number: number; answer: LeachAnswer }>) => {
      if (event.data.number === asking.current) setAnswer(event.data.answer);
    };
    const { current } = worker;
    current.addEventListener('message', hear);
    current.postMessage({ number, wish });
    return () => current.removeEventListener('message', hear);
  }, [wish]);
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = undefined;
    },
    [],
  );
  return answer;
}
