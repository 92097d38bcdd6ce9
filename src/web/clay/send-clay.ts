import type { ClayAct } from '../../contract/clay.ts';
import { useAct } from '../shell/use-act.ts';

/** Sends acts of the Clay room; what is wrong comes back by field, with its code where it is asked about once. */
export function useClayAct() {
  const { send, ...rest } = useAct('/api/clay/acts');
  return { ...rest, send: (body: ClayAct, words: string) => send(body, words) };
}
