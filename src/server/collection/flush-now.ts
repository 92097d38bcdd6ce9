import { flushMl } from '../../core/regimen/index.ts';
import {
  flushForPot,
  FLUSH_EFFICIENCY,
  FLUSH_WHY,
  type FlushForPot,
  type FlushWater,
  type PotToFlush,
} from '../../core/reservoir/index.ts';
import { poresOf } from './learn-pot.ts';
import { memo } from './memo.ts';
import type { PotState } from './pot-state.ts';
import { inUse } from './in-use.ts';
import { waterNow, type WaterEntry, plainWater } from './waters.ts';

export type WaterAtHand = FlushWater & { readonly name: string };

/** Waters on the Shelf that were read, to flush with; what is made drop by drop is scarce. */
export const flushWaters = memo((waters: ReadonlyMap<string, WaterEntry>): readonly WaterAtHand[] =>
  inUse(waters).flatMap((entry) => {
    const then = waterNow(entry);
    const { ecUsCm } = then;
    // Nothing is flushed with a brine: it is past what the chemistry reaches.
    return ecUsCm === undefined || !plainWater(then)
      ? []
      : [{ id: entry.row.id, name: entry.row.name, ecUsCm, scarce: entry.row.kind === 'still' }];
  }),
);

/** A pot's flush today. Where nothing is known of what stands in it: the rule of thumb, and nothing foretold. */
export type FlushNow = {
  readonly stages: FlushForPot['stages'];
  readonly totalMl: number;
  readonly habitMl: number;
  readonly runOffEcUsCm?: number;
  readonly afterFillEcUsCm?: number;
  /** As it was flushed at the last visits, and what the pot would read then. */
  readonly lately?: { readonly ml: number; readonly afterFillEcUsCm: number };
  readonly kind: FlushForPot['why'] | 'thumb';
  /** From what it was reckoned, and with which waters: a reading on the round reckons it anew. */
  readonly by?: PotToFlush;
  readonly waters?: readonly WaterAtHand[];
  readonly why: string;
};

/** By the regimen alone. */
export const flushByThumb = memo((s: PotState): FlushNow => {
  const habitMl = flushMl(s.watering, s.pot.reservoirMl);
  return {
    stages: [],
    totalMl: habitMl,
    habitMl,
    kind: 'thumb',
    why: `${times(habitMl / s.pot.reservoirMl)} the reservoir, ${s.regimen.params.flush.exact ? 'as the trial says' : 'rule of thumb'}`,
  };
});

export const flushNow = memo((s: PotState, atHand: readonly WaterAtHand[]): FlushNow => {
  const still = s.regimen.params.flush.with === 'still' ? atHand.filter((w) => w.scarce) : [];
  const waters = still.length > 0 ? still : atHand;
  const thumb = flushByThumb(s);
  const { habitMl } = thumb;
  const { ecUsCm } = s.expected;
  if (s.regimen.params.flush.exact) return exactly(thumb, waters);
  if (ecUsCm === undefined) return thumb;
  const last = s.fills.slice(-LATELY).map((fill) => fill.payload.flushMl);
  const latelyMl = last.length === 0 ? undefined : last.reduce((sum, ml) => sum + ml, 0) / last.length;
  const by: PotToFlush = {
    poresEcUsCm: ecUsCm,
    poreMl: poresOf(s.pot),
    reservoirMl: s.pot.reservoirMl,
    fillMl: s.pot.fillMl,
    efficiency: s.known?.efficiency ?? FLUSH_EFFICIENCY,
    mixEcUsCm: s.aimEcUsCm,
    habitTimes: s.watering.flushTimesReservoir,
    compareMl: latelyMl ?? habitMl,
  };
  const plan = flushForPot(by, waters);
  if (!plan) return thumb;
  return {
    stages: plan.stages,
    totalMl: plan.totalMl,
    habitMl,
    runOffEcUsCm: plan.runOffEcUsCm,
    afterFillEcUsCm: plan.afterFillEcUsCm,
    ...(latelyMl === undefined ? {} : { lately: { ml: latelyMl, afterFillEcUsCm: plan.compared.afterFillEcUsCm } }),
    kind: plan.why,
    why: FLUSH_WHY[plan.why],
    by,
    waters,
  };
});

/** What a trial says, of the water that is plentiful, whatever stands in the pot. */
function exactly(thumb: FlushNow, waters: readonly WaterAtHand[]): FlushNow {
  const { habitMl } = thumb;
  const water = waters.find((w) => !w.scarce) ?? waters[0];
  return { ...thumb, stages: water && habitMl > 0 ? [{ waterId: water.id, ml: habitMl }] : [] };
}

/** Visits that are "lately". */
const LATELY = 3;

const times = (n: number) => (n === 0 ? 'no flush:' : `${Number(n.toFixed(1))} ×`);
