import type { DriftAct } from '../../contract/drift.ts';
import { useAct } from '../shell/use-act.ts';

/** Sends acts of the Drift room; what is wrong comes back by field. */
export function useDriftAct() {
  const { send, ...rest } = useAct('/api/drift/acts');
  return { ...rest, send: (body: DriftAct, words: string) => send(body, words) };
}
