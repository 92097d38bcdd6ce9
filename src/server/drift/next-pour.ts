import type { AcidsFor, MixAdvice } from '../../contract/drift.ts';
import { bringsWords, lastsWords, wholeDose } from '../../core/correction/index.ts';
import {
  advisePour,
  aheadOfNext,
  filledPot,
  restingAt,
  standAt,
  standsAfter,
  standingAtPh,
  strengthOf,
  USUAL_PH,
  type Ahead,
  type PotToPour,
  type PotWater,
  type PotSolution,
} from '../../core/drift/index.ts';
import { countWords, doseWords, GUESSED_DROPS_PER_ML } from '../../core/quantity/index.ts';
import { daysBetween, isDue, litresWithSpare, mixKey } from '../../core/regimen/index.ts';
import { thirstOver } from '../../core/reservoir/index.ts';
import { anchoredAt, elementsOf, scaleComposition } from '../../core/solution/index.ts';
import {
  flushNow,
  flushWaters,
  inPool,
  inUse,
  isFollowed,
  memo,
  mixOf,
  newestFirst,
  plainWater,
  poresOf,
  potStates,
  readLabelText,
  thirstOf,
  waterNow,
  type BatchEntry,
  type Collection,
  type Followed,
  type Mix,
  type PotState,
} from '../collection/index.ts';

/** The mix a regimen asks for, as the next batch of it will be: like the last one, at its aim, brought to its pH; `naturalPh`: by itself, before any acid. */
export type NextMix = {
  readonly key: string;
  readonly mix: Mix;
  readonly standing: PotSolution;
  readonly naturalPh: number;
};
/**
 * The next mix of some pots with one key: like the newest batch that was made for it; where none ever was, like what its pots were last filled with. Undefined
 * where nobody knows that either.
 */
export function nextMix({ batches }: Collection, states: readonly Followed[]): NextMix | undefined {
  const [first] = states;
  if (!first) return undefined;
  const key = mixKey(first.watering);
  const batch = newestOf(batches).get(key) ?? states.map((s) => s.lastFill?.batch).find(Boolean);
  if (!batch) return undefined;
  const mix = mixOf(batch);
  if (!mix) return undefined;
  const standing = {
    strength: strengthOf(mix.curve, first.aimEcUsCm),
    carbonMmolL: mix.curve.carbonMmolL,
    alkaliMeqL: 0,
  };
  // Brought to the middle of what its regimen pours at: nobody pours it as it stands by itself.
  const { pourPhLow, pourPhHigh } = first.watering;
  return {
    key,
    mix,
    standing: standingAtPh(mix.curve, standing, (pourPhLow + pourPhHigh) / 2),
    naturalPh: batch.firstPh ?? standAt(mix.curve, standing),
  };
}

/** The newest poured batch of each mix. */
const newestOf = memo((batches: ReadonlyMap<string, BatchEntry>): ReadonlyMap<string, BatchEntry> => {
  const found = new Map<string, BatchEntry>();
  for (const batch of newestFirst(batches)) {
    const { mixKey: key, status } = batch.row;
    if (key !== null && status === 'poured' && !found.has(key)) found.set(key, batch);
  }
  return found;
});

/** A pot about to be filled with the next mix: old water at its due day, flushed as planned, the fresh mix on it. */
export function pourOf(
  { waters }: Collection,
  s: Followed,
  next: NextMix,
  today: string,
): PotToPour & { readonly ahead: Ahead } {
  const { known, pot } = s;
  const on = s.due.dueOn > today ? s.due.dueOn : today;
  const { water: before, on: since } = s.standing;
  const gone = Math.max(s.standing.water.gone ? 0 : 1, daysBetween(since, on));
  const { old, ecUsCm, ph } = standsAfter(known.belief, before, known.season, gone);
  const poreMl = poresOf(pot);
  // Only waters within the model are flushed with.
  const flushed = flushNow(s, flushWaters(waters)).stages.map(({ waterId, ml }) => ({
    water: plainWater(waterNow(waters.get(waterId)!))!.curve,
    ml,
  }));
  // The pores hold the old water as it will stand: thicker, with what clay and roots gave.
  const pores = { curve: before.curve, standing: restingAt(before.curve, strengthOf(before.curve, ecUsCm), ph) };
  const filling = {
    pouredMl: pot.fillMl,
    mix: { curve: next.mix.curve, standing: next.standing, phKnown: true },
    flushed,
  };
  return {
    id: pot.id,
    ahead: aheadOfNext(known, filling, s.watering.everyDays),
    water: filledPot(filling, { pores, old, fresh: false }, poreMl, known.efficiency.mean, known.belief),
    belief: known.belief,
    season: thirstOver(thirstOf(s.place, s.entry.latitude), on, s.watering.everyDays),
    days: s.watering.everyDays,
    window: { low: s.drawing.phLow, high: s.drawing.phHigh },
  };
}

/** The mix alone as it is poured: for telling the air's share of a drift from the clay's. */
export function mixAlone(next: NextMix, fillMl: number): PotWater {
  return { curve: next.mix.curve, standing: next.standing, reservoirMl: fillMl, poreMl: 0.001 * fillMl };
}

/** Pots one batch of a mix is made for: those due by the day this one is. */
export function potsOfBatch(states: readonly PotState[], key: string, on: string): PotState[] {
  return states.filter((s) => mixKey(s.watering) === key && (isDue(s.due) || s.due.dueOn <= on));
}

export function litresFor(pots: readonly PotState[]): number {
  return litresWithSpare(pots.reduce((sum, s) => sum + s.pot.fillMl, 0));
}

/** More pots than this are thought over in a thread. */
const MOST_HERE = 4;

/** Where to pour a mix for all its pots that are due by a day. */
export async function adviseMix(collection: Collection, key: string, today: string, by: string): Promise<MixAdvice> {
  const due = potsOfBatch(potStates(collection, today), key, by).filter(isFollowed);
  const next = nextMix(collection, due);
  if (!next) return { pourPh: null, days: 0, inside: 0, insideAtUsual: 0, pots: 0, suffer: [] };
  const pots = due.map((s) => pourOf(collection, s, next, today));
  const advice = (pots.length > MOST_HERE ? await inPool('advise', pots) : advisePour(pots, 'steady'))!;
  const codes = new Map(due.map((s) => [s.pot.id, s.pot.code]));
  const insideAt = (ph: number) => advice.outcomes.find((o) => Math.abs(o.pourPh - ph) < 0.05)!.inside;
  return {
    pourPh: advice.pourPh,
    days: pots.reduce((sum, p) => sum + p.days, 0) / pots.length,
    inside: insideAt(advice.pourPh),
    insideAtUsual: insideAt(USUAL_PH),
    pots: pots.length,
    suffer: advice.suffer.map((s) => ({ ...s, code: codes.get(s.id) ?? '' })),
  };
}

/** A batch not yet made is known by its label and its last reading only. */
const ALKALINITY_SD = 0.05;
const RESPONSE_SD = 0.1;
/** Past so many mL a litre no pH is brought down sensibly: the product is for something else. */
const MOST_ML_PER_L = 20;

const CANNOT_STAND =
  'By its labels and its water this mix cannot have stood at the pH it was read at, so no dose is counted from it. Read it again, and look at the labels.';

/** What of each acid (or alkali) brings so many litres of the next mix from its own pH to another. */
export function acidsFor(collection: Collection, next: NextMix, toPh: number, litres: number): AcidsFor {
  const { naturalPh: fromPh, mix, standing } = next;
  const answer = { fromPh, toPh, litres };
  if (Math.abs(fromPh - toPh) < 0.05) return { ...answer, choices: [], why: 'The mix stands there by itself.' };
  const direction = fromPh > toPh ? 'down' : 'up';
  const total = anchoredAt(scaleComposition(mix.total, standing.strength), fromPh);
  if (!total) return { ...answer, choices: [], why: CANNOT_STAND };
  const products = inUse(collection.products).filter(
    ({ row }) => row.kind === (direction === 'down' ? 'acid' : 'base'),
  );
  const choices = products.flatMap(({ row: product }): AcidsFor['choices'] => {
    const label = product.analysis === null ? undefined : readLabelText(product.analysis);
    if (!label) return [];
    const whole = wholeDose(
      {
        total,
        alkalinitySd: ALKALINITY_SD,
        responseSd: RESPONSE_SD,
        carbonateSd: 0,
        volumeL: litres,
        window: { low: toPh - 0.1, high: toPh + 0.1 },
        seen: [],
        stirred: [],
        correctionsUsed: 0,
        perMl: label.perUnit,
        direction,
        tools: [],
      },
      toPh,
    );
    if ('message' in whole || whole.ml > MOST_ML_PER_L * litres) return [];
    const brings = bringsWords(elementsOf(scaleComposition(label.perUnit, whole.ml / litres)));
    return [
      {
        productId: product.id,
        name: product.name,
        ml: whole.ml,
        words: dropsWords(whole.ml),
        brings,
        lasts: lastsWords(label.perUnit),
        caution: product.caution,
      },
    ];
  });
  const why =
    choices.length > 0
      ? null
      : `No ${direction === 'down' ? 'acid' : 'alkali'} on the Shelf has a label that says how strong it is.`;
  return { ...answer, choices, why };
}

/** A dose under a drop is given thinned: some drops of one part in ten, or in a hundred. */
const THINNED_TO = [10, 100];
const FEW_DROPS = 3;
function dropsWords(ml: number): string {
  const drops = ml * GUESSED_DROPS_PER_ML;
  if (drops >= 1) return doseWords(ml);
  const ratio = THINNED_TO.find((times) => drops * times >= FEW_DROPS) ?? THINNED_TO.at(-1)!;
  return `${countWords(Math.max(1, Math.round(drops * ratio)), 'drop')}, thinned 1 in ${ratio},`;
}
