import {
  alkaliAt,
  asMade,
  blendCurves,
  borrow,
  clayPrior,
  courseOf,
  foretoldAt,
  learnInterval,
  learnSoak,
  natureOf,
  playPot,
  POTS_AT_LARGE,
  restCarbon,
  type Course,
  type Interval,
  type PotBelief,
  type PotWater,
  type Standing,
  type TitrationCurve,
  strengthOf,
} from '../../core/drift/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { FLUSH_EFFICIENCY, learnEfficiency, PORES_PER_RESERVOIR, shareLeft, thirstOver, type EfficiencyBelief } from '../../core/reservoir/index.ts';
import { phOffset } from '../bench/predicted.ts';
import type { Pot } from '../database/entities.ts';
import type { Fill, TopUp } from '../pots/visits.ts';
import type { Meters } from '../shelf/meter-states.ts';
import type { Mix, PlainWater } from './mixes.ts';
import type { SoakFound } from './soaks.ts';

/** What is known of a pot now: how it behaves, and what it was last filled with. */
export type PotKnowledge = {
  readonly belief: PotBelief;
  readonly water: PotWater;
  readonly filledOn: string;
  /** The pH of the last filling was read, so that a forecast of pH stands on something. */
  readonly phKnown: boolean;
  /** Share of the body that was fresh mix. */
  readonly freshShare: number;
  /** How well a flush mixes with what stands in its pores. */
  readonly efficiency: EfficiencyBelief;
  /** From each filling to the visit it ended on, with what was read; oldest first. */
  readonly intervals: readonly SeenInterval[];
  /** How much drinking the days since it was filled invite. */
  readonly season: number;
  /** The pot from the day it was filled on, a figure a day. */
  readonly course: Course;
};

/** An interval with the visit it ended on, and what was foretold for that visit from what was known before it. */
export type SeenInterval = Interval & {
  readonly endedOn: string;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
  readonly foretold: { readonly ecUsCm: number; readonly ph: number | undefined };
};

/** What the log says of a pot, for {@link knowAlone}. */
export type PotLog = {
  readonly pot: Pick<Pot, 'id' | 'medium' | 'reservoirMl' | 'clay' | 'repottedOn'>;
  readonly fills: readonly Fill[];
  readonly topUps: readonly TopUp[];
  /** Thirst by month on its place. */
  readonly thirst: readonly number[];
  readonly soaks: readonly SoakFound[];
};

/** Days a pot is looked ahead from its filling: past the outer limit of every school. */
export const DAYS_AHEAD = 35;
/** Days whose thirst counts as one season. */
const SEASON_DAYS = 14;
/** Water that stays in a drained pot by what it grows in, mL for each mL of its reservoir. */
const PORES: Readonly<Record<string, number>> = { clay: PORES_PER_RESERVOIR, bark: 0.15, water: 0.02, basket: PORES_PER_RESERVOIR };
export const poresOf = (pot: Pick<Pot, 'medium' | 'reservoirMl'>) => Math.max(1, (PORES[pot.medium] ?? PORES_PER_RESERVOIR) * pot.reservoirMl);

/** A pot as it is known by itself, before it borrows from its clay; undefined where it was never filled with a mix that is known. */
export type Alone = Omit<PotKnowledge, 'course'>;
type Filled = { readonly fill: Fill; readonly mix: Mix; readonly water: PotWater };
type Pores = { readonly curve: TitrationCurve; readonly standing: Standing };

export function knowAlone(log: PotLog, mixes: ReadonlyMap<string, Mix>, waters: ReadonlyMap<string, PlainWater>, meters: Meters): Alone | undefined {
  const poreMl = poresOf(log.pot);
  let belief = POTS_AT_LARGE;
  let efficiency: EfficiencyBelief = FLUSH_EFFICIENCY;
  const intervals: Alone['intervals'][number][] = [];
  let filled: Filled | undefined;
  let last: Filled | undefined;
  const { repottedOn } = log.pot;
  // Another clay is another nature: what was read before a repotting says nothing of it.
  for (const fill of log.fills.filter((f) => repottedOn === null || f.on >= repottedOn)) {
    let pores: Pores | undefined;
    if (filled) {
      const interval = intervalOf(filled.water, filled.fill, fill, meters, log.thirst, log.topUps);
      const { ppmMeterId, phMeterId } = fill.payload;
      const foretold = foretoldAt(interval, belief);
      intervals.push({
        ...interval,
        endedOn: fill.on,
        ppmMeterId,
        phMeterId,
        foretold: { ecUsCm: foretold.ecUsCm, ph: filled.mix.phKnown ? foretold.ph : undefined },
      });
      belief = learnInterval(belief, interval);
      pores = oldWater(interval, belief);
      efficiency = learnFlush(efficiency, fill, pores, poreMl, filled.mix, waters);
    }
    const mix = mixOf(fill, mixes, waters);
    // A mix nobody knows ends what can be followed; the next known one begins anew.
    filled = mix && { fill, mix, water: fillWith(mix, fill, pores, poreMl, waters, efficiency.mean) };
    last = filled ?? last;
  }
  if (!last) return undefined;
  const { water, fill, mix } = last;
  for (const { soak, result, driedSince } of log.soaks)
    if (result.ok && (repottedOn === null || soak.on >= repottedOn))
      belief = learnSoak(belief, { ueq: result.firstHourUeq.middle, sdUeq: result.firstHourUeq.sd, bodyMl: water.reservoirMl + poreMl, driedSince });
  const freshShare = water.reservoirMl / (water.reservoirMl + water.poreMl);
  const season = thirstOver(log.thirst, fill.on, SEASON_DAYS);
  return { belief, water, filledOn: fill.on, phKnown: mix.phKnown, freshShare, efficiency, intervals, season };
}

/** What a pot was filled with: a mix, or a water as it is. */
function mixOf({ payload }: Fill, mixes: ReadonlyMap<string, Mix>, waters: ReadonlyMap<string, PlainWater>): Mix | undefined {
  if (payload.batchId !== null) return mixes.get(payload.batchId);
  const water = payload.waterId === null ? undefined : waters.get(payload.waterId);
  return water && { curve: water.curve, standing: asMade(water.curve), waterId: payload.waterId!, phKnown: false, total: water.composition };
}

/** Clays are told apart by their names. */
export const clayKey = (clay: string | null) => (clay ?? '').trim().toLowerCase();

/**
 * Every pot with what it borrows from the others in its clay.
 * @param before what was known together, kept for the pots of clays that are not among the changed ones
 */
export function knowTogether(
  alone: ReadonlyMap<string, { readonly clay: string | null; readonly known: Alone }>,
  before: ReadonlyMap<string, PotKnowledge> = new Map(),
  changed?: ReadonlySet<string>,
): Map<string, PotKnowledge> {
  const byClay = new Map<string, [string, Alone][]>();
  for (const [potId, { clay, known }] of alone) {
    const name = clayKey(clay);
    const members = byClay.get(name);
    if (members) members.push([potId, known]);
    else byClay.set(name, [[potId, known]]);
  }
  const found = new Map<string, PotKnowledge>();
  for (const [name, pots] of byClay) {
    if (changed && !changed.has(name) && pots.every(([potId]) => before.has(potId))) {
      for (const [potId] of pots) found.set(potId, before.get(potId)!);
      continue;
    }
    const prior = name === '' ? POTS_AT_LARGE : clayPrior(pots.map(([, known]) => known.belief));
    for (const [potId, known] of pots) {
      const belief = borrow(known.belief, prior);
      const course = courseOf(DAYS_AHEAD);
      playPot(known.water, natureOf(belief, known.water, known.season), course);
      found.set(potId, { ...known, belief, course });
    }
  }
  return found;
}

/** Waters a flush was made with; where nobody said, the water of the mix. */
function stagesOf({ payload }: Fill, mix: Mix): readonly { waterId: string; ml: number }[] {
  return payload.flushWith.length > 0 ? payload.flushWith : payload.flushMl > 0 ? [{ waterId: mix.waterId, ml: payload.flushMl }] : [];
}

/** The pot just filled: the mix, and in the pores what each stage of the flush left of what stood there before it. */
function fillWith(mix: Mix, fill: Fill, pores: Pores | undefined, poreMl: number, waters: ReadonlyMap<string, PlainWater>, efficiency: number): PotWater {
  const { pouredMl } = fill.payload;
  let inPores = pores ? [{ volume: poreMl, of: pores.curve, standing: pores.standing }] : [];
  for (const { waterId, ml } of stagesOf(fill, mix)) {
    const plain = waters.get(waterId)?.curve;
    if (!plain) continue;
    const left = inPores.length > 0 ? shareLeft(ml, poreMl, efficiency) : 0;
    inPores = [...inPores.map((part) => ({ ...part, volume: part.volume * left })), { volume: poreMl * (1 - left), of: plain, standing: asMade(plain) }];
  }
  const curve = blendCurves([{ volume: pouredMl, of: mix.curve, standing: mix.standing }, ...inPores.filter((part) => part.volume > 0.001 * poreMl)]);
  return { curve, standing: asMade(curve), reservoirMl: pouredMl, poreMl };
}

/** What a run-off says of how well this pot is flushed: only a flush of one water can be told. */
function learnFlush(belief: EfficiencyBelief, fill: Fill, pores: Pores, poreMl: number, mix: Mix, waters: ReadonlyMap<string, PlainWater>): EfficiencyBelief {
  const [stage, more] = stagesOf(fill, mix);
  const water = stage && waters.get(stage.waterId)?.curve;
  if (fill.runOffEcUsCm === undefined || !water || more) return belief;
  return learnEfficiency(belief, {
    poresEcUsCm: pores.curve.ecUsCm * pores.standing.strength,
    waterEcUsCm: water.ecUsCm,
    flushMl: stage.ml,
    poreMl,
    runOffEcUsCm: fill.runOffEcUsCm,
  });
}

function intervalOf(water: PotWater, from: Fill, to: Fill, meters: Meters, thirst: readonly number[], topUps: readonly TopUp[]): Interval {
  const days = daysBetween(from.on, to.on);
  const season = thirstOver(thirst, from.on, days);
  // Poured onto in between, it is not the pot's own course that was read.
  if (topUps.some((t) => t.at > from.at && t.at < to.at)) return { water, days, season, leftMl: undefined, cameOutEcUsCm: undefined, cameOutPh: undefined };
  const sound = (figure: 'cameOutPpm' | 'cameOutPh') => !to.tainted.includes(figure);
  const offset = to.payload.phMeterId === null ? 0 : phOffset(meters.get(to.payload.phMeterId), to.at);
  // A pen known to be off by so much is put right by it; off by nobody knows how much, it teaches nothing.
  const ph = to.cameOutPh === undefined || (!sound('cameOutPh') && offset === 0) ? undefined : to.cameOutPh - offset;
  return {
    water,
    days,
    season,
    leftMl: to.payload.oldReservoir.leftMl ?? undefined,
    cameOutEcUsCm: sound('cameOutPpm') ? to.cameOutEcUsCm : undefined,
    cameOutPh: ph,
  };
}

/** The old water at a visit: as read, and where it was not, as it most likely stood. */
function oldWater(interval: Interval, belief: PotBelief): Pores {
  const { water, cameOutEcUsCm, cameOutPh } = interval;
  const { curve } = water;
  const likely = foretoldAt(interval, belief);
  return { curve, standing: restingAt(curve, strengthOf(curve, cameOutEcUsCm ?? likely.ecUsCm), cameOutPh ?? likely.ph) };
}

/** Old water at a strength and a pH: its carbon is at rest with the air. */
export function restingAt(curve: TitrationCurve, strength: number, ph: number): Standing {
  const carbonMmolL = restCarbon(curve, ph);
  return { strength, carbonMmolL, alkaliMeqL: alkaliAt(curve, strength, carbonMmolL, ph) };
}
