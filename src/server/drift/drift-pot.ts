import type { DriftPot } from '../../contract/drift.ts';
import { milestones, weekUeqOf } from '../../core/drift/index.ts';
import { inSentence, ppmFromEc, volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { topUp } from '../../core/reservoir/index.ts';
import { daysUntilDry, flushNow, memo, type Followed, type WaterAtHand } from '../collection/index.ts';

/** One pot of the room, on the grower's scale and in the grower's units. */
export const toDriftPot = memo(
  (s: Followed, waters: readonly WaterAtHand[], today: string, scale: number, units: VolumeUnits): DriftPot => {
    const { known, pot } = s;
    const { belief } = known;
    const { course, water, on: since } = s.standing;
    const ppm = (ec: number) => Math.round(ppmFromEc(ec, scale));
    const last = course.ph.length - 1;
    const dayOf = (on: string) => Math.min(last, Math.max(0, daysBetween(since, on)));
    const at = (on: string) => {
      const day = dayOf(on);
      return {
        ppm: ppm(course.ecUsCm[day]!),
        ph: s.expected.ph === undefined ? null : Number(course.ph[day]!.toFixed(2)),
        leftMl: Math.round(course.freeMl[day]!),
      };
    };
    const dryInDays = daysUntilDry(s, today);
    const passes = milestones(course, {
      reservoirMl: water.reservoirMl,
      aimEcUsCm: s.aimEcUsCm,
      window: { low: s.drawing.phLow, high: s.drawing.phHigh },
    });
    const on = (day: number | undefined) => (day === undefined ? null : plusDays(since, day));
    const flush = flushNow(s, waters);
    const visit = s.due.dueOn > today ? s.due.dueOn : today;
    return {
      id: pot.id,
      code: pot.code,
      name: pot.name || pot.plant,
      place: s.place.name,
      clay: pot.clay,
      drawing: s.drawing,
      dueOn: s.due.dueOn,
      fillMl: pot.fillMl,
      weekUeq: weekUeqOf(known),
      rounds: belief.seen.alkali,
      atLarge: belief.seen.alkali + belief.seen.salts + belief.seen.drinks === 0,
      dried: s.entry.dried.length,
      now: at(today),
      aimPpm: ppm(s.aimEcUsCm),
      atVisit: at(visit),
      dryOn: dryInDays === undefined ? null : plusDays(today, dryInDays),
      saltsOn: on(passes.salty),
      phOutOn: s.expected.ph !== undefined ? on(passes.phOut) : null,
      topUp: topUpNow(s, waters, today, ppm),
      ratios: s.intervals
        .flatMap((i) =>
          i.pouredEcUsCm && i.cameOutEcUsCm !== undefined
            ? [Number((i.cameOutEcUsCm / i.pouredEcUsCm).toFixed(2))]
            : [],
        )
        .slice(-5),
      flush: {
        ml: flush.totalMl,
        words:
          flush.stages
            .map(
              (stage) =>
                `${volumeWords(stage.ml, units)} ${inSentence(waters.find((w) => w.id === stage.waterId)?.name ?? '')}`,
            )
            .join(', then ') || (flush.totalMl > 0 ? `${volumeWords(flush.totalMl, units)} of water` : '—'),
        why: flush.why,
        afterPpm: flush.afterFillEcUsCm === undefined ? null : ppm(flush.afterFillEcUsCm),
        lately: flush.lately ? { ml: flush.lately.ml, afterPpm: ppm(flush.lately.afterFillEcUsCm) } : null,
      },
    };
  },
);

/** A top-up is worth a word where the pot is low before its day. */
const LOW_SHARE = 0.4;

function topUpNow(
  s: Followed,
  waters: readonly WaterAtHand[],
  today: string,
  ppm: (ec: number) => number,
): DriftPot['topUp'] {
  const { leftMl, ecUsCm } = s.expected;
  if (leftMl === undefined || ecUsCm === undefined || s.due.dueOn <= today || leftMl > LOW_SHARE * s.pot.fillMl)
    return null;
  const plain = Math.min(...waters.map((w) => w.ecUsCm), s.aimEcUsCm);
  const up = topUp({ freeMl: leftMl, poreMl: s.known.water.poreMl, ecUsCm, fillMl: s.pot.fillMl }, s.aimEcUsCm, plain);
  return up ? { what: up.what, ml: up.ml, afterPpm: ppm(up.afterEcUsCm) } : null;
}
