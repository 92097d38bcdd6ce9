import type { RoundMix, RoundPot, RoundView } from '../../contract/round.ts';

/** The mix that stands ready for so much: made, not used up, and reaching. */
export function readyFor(mix: Pick<RoundMix, 'batch'> | undefined, ml: number): RoundMix['batch'] | undefined {
  const batch = mix?.batch;
  return batch?.status === 'poured' && batch.leftMl > 0 && ml <= batch.pourableMl ? batch : undefined;
}

/** Whether what a pot is filled with stands ready: its mix is made and reaches, it gets plain water, and no soak comes first. */
export function canBeLogged({ soak, watering, mixKey, fillMl }: RoundPot, mixes: RoundView['mixes']): boolean {
  if (soak && !soak.given) return false;
  const ready = readyFor(
    mixes.find((m) => m.key === mixKey),
    fillMl,
  );
  return (watering.what === 'plain' && watering.waterId !== null) || ready !== undefined;
}
