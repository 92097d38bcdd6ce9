import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import type { ClayRoom } from '../../contract/clay.ts';
import type { PlanLeach } from '../../core/plan/index.ts';
import { get } from '../shell/api.ts';
import { leachAsks, leachesOf } from './leaches.ts';
import type { PlanAsk, PlanReply } from './plan-worker.ts';

/** The changes of water that new clay still wants; undefined until that is known. */
export function useLeaches(): readonly PlanLeach[] | undefined {
  const room = useQuery({ queryKey: ['clay'], queryFn: () => get<ClayRoom>('/api/clay') });
  const asked = room.data ? JSON.stringify(leachAsks(room.data)) : undefined;
  const [found, setFound] = useState<{ readonly asked: string; readonly leaches: readonly PlanLeach[] }>();
  useEffect(() => {
    if (asked === undefined) return undefined;
    const asks = JSON.parse(asked) as ReturnType<typeof leachAsks>;
    const done = (leaches: readonly PlanLeach[]) => setFound({ asked, leaches });
    if (asks.length === 0 || typeof Worker === 'undefined') return void done(leachesOf(asks));
    const worker = new Worker(new URL('./plan-worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<PlanReply>) => {
      if (data.kind === 'leaches') done(data.leaches);
    });
    worker.postMessage({ kind: 'leaches', asks } satisfies PlanAsk);
    return () => worker.terminate();
  }, [asked]);
  // Where Clay cannot be asked the season is planned without it.
  const none = useMemo(() => [], []);
  if (room.isError) return none;
  return found?.leaches;
}
