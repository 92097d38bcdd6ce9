import type { RoundPot, RoundView } from '../../contract/round.ts';
import { parseReading } from '../../core/quantity/reading.ts';
import { flushForPot, flushRange, FLUSH_WHY, type FlushRange, type PotToFlush } from '../../core/reservoir/index.ts';
import { ppmText, readSmall } from '../shell/format.ts';
import { flushLogged } from './flush-words.ts';

/** 1 SD of the logarithm of what stands in the pores: where the reservoir was just read, and where it is foretold (science.md: pots). */
const READ_SD = 0.06;
const FORETOLD_SD = 0.15;
/** Of a pot nothing was ever read of. */
const AT_LARGE_SD = 0.3;

/** A pot's flush as it stands after what is typed, with how far that is known, ppm. */
export type FlushAsRead = Pick<RoundPot, 'flush' | 'flushMl'> & {
  readonly range: FlushRange | undefined;
  /** The reading that is typed changed it. */
  readonly replanned: boolean;
};

/**
 * The flush planned anew from the strength just typed; as it was planned where none is, or where nothing is known to reckon from. The range is of
 * the volume that is typed, where one is.
 */
export function flushAsRead(
  pot: RoundPot,
  waters: RoundView['waters'],
  draft: Readonly<{ ppm: string; flush: string }>,
): FlushAsRead {
  const { by } = pot.flush;
  const planned = { flush: pot.flush, flushMl: pot.flushMl, replanned: false };
  if (!by) return { ...planned, range: undefined };
  const atHand = waters
    .filter((w) => by.waterIds.includes(w.id))
    .map(({ id, ppm, scarce }) => ({ id, ecUsCm: ppm, scarce }));
  // The mixing is in proportion, so that it can be reckoned on the pen's own scale.
  const on = (ppm: number): PotToFlush => ({
    poresEcUsCm: ppm,
    poreMl: by.poreMl,
    reservoirMl: pot.reservoirMl,
    fillMl: pot.fillMl,
    efficiency: by.efficiency,
    mixEcUsCm: by.mixPpm,
    habitTimes: by.habitTimes,
    compareMl: by.compareMl,
  });
  const volume = readSmall(draft.flush);
  const ranged = (flush: Omit<FlushAsRead, 'range'>, pores: PotToFlush, sd: number): FlushAsRead => {
    const { flushWith } = flushLogged(flush, volume.kind === 'volume' ? volume.ml : null);
    return { ...flush, range: flushRange(pores, flushWith, atHand, sd) };
  };
  const typed = parseReading(draft.ppm, 'ppm');
  if (!typed.ok || typed.reading.kind !== 'value')
    return ranged(planned, on(by.poresPpm), pot.expected.atLarge ? AT_LARGE_SD : FORETOLD_SD);
  const read = on(typed.reading.value);
  const plan = flushForPot(read, atHand);
  if (!plan) return { ...planned, range: undefined };
  const nameOf = (id: string) => waters.find((w) => w.id === id)?.name ?? '';
  const anew = {
    flushMl: plan.totalMl,
    flush: {
      ...pot.flush,
      stages: plan.stages.map(({ waterId, ml }) => ({ waterId, ml, water: nameOf(waterId) })),
      runOffPpm: Math.round(plan.runOffEcUsCm),
      afterPpm: Math.round(plan.afterFillEcUsCm),
      why: FLUSH_WHY[plan.why],
    },
    replanned: plan.totalMl !== pot.flushMl || FLUSH_WHY[plan.why] !== pot.flush.why,
  };
  return ranged(anew, read, READ_SD);
}

/** "40 to 65" */
export const between = ({ low, high }: { low: number; high: number }): string =>
  ppmText(low) === ppmText(high) ? `≈ ${ppmText(low)}` : `${ppmText(low)} to ${ppmText(high)}`;

/** What the pot should read once it is filled, and whether the reading just typed is in it. */
export function flushLeaves({ range, replanned }: Pick<FlushAsRead, 'range' | 'replanned'>): string {
  if (!range) return '';
  return `then reads ${between(range.filled)}${replanned ? ', planned anew by what you just read' : ''}`;
}
