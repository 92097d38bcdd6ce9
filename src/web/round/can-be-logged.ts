import type { RoundPot, RoundView } from '../../contract/round.ts';

/** Whether what a pot is filled with stands ready: its mix is made and not used up, it gets plain water, and no soak comes first. */
export function canBeLogged({ soak, watering, mixKey }: RoundPot, mixes: RoundView['mixes']): boolean {
  if (soak && !soak.given) return false;
  const batch = mixes.find((m) => m.key === mixKey)?.batch;
  return (watering.what === 'plain' && watering.waterId !== null) || (batch?.status === 'poured' && batch.leftMl > 0);
}
