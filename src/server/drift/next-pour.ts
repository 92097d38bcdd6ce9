import type { EntityManager } from 'typeorm';
import type { AcidsFor, MixAdvice } from '../../contract/drift.ts';
import { wholeDose } from '../../core/correction/index.ts';
import {
  advisePour,
  asMade,
  blendCurves,
  courseOf,
  natureOf,
  playPot,
  standAt,
  standingAtPh,
  USUAL_PH,
  type PotToPour,
  type PotWater,
  type Standing,
  strengthOf,
} from '../../core/drift/index.ts';
import { doseWords, readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { daysBetween, isDue, litresWithSpare, mixKey } from '../../core/regimen/index.ts';
import { shareLeft, thirstOver } from '../../core/reservoir/index.ts';
import { anchoredAt, elementsOf, scaleComposition } from '../../core/solution/index.ts';
import { bringsWords, lastsWords } from '../bench/ph-choices.ts';
import { phOffset } from '../bench/predicted.ts';
import type { Batch, CareEvent, Product } from '../database/entities.ts';
import type { PotState } from '../pots/pot-states.ts';
import { labelOf } from '../shelf/label-of.ts';
import type { Meters } from '../shelf/meter-states.ts';
import { flushNow, type WaterAtHand } from './flush-now.ts';
import { thirstOf } from './known-pots.ts';
import { mixesOf, waterCurves, type Mix, type PlainWater } from './mixes.ts';
import { poresOf, restingAt, type PotKnowledge } from './pot-knowledge.ts';

/** The mix a regimen asks for, as the next batch of it will be: like the last one, at its aim, brought to its pH; `naturalPh`: by itself, before any acid. */
export type NextMix = { readonly key: string; readonly mix: Mix; readonly standing: Standing; readonly naturalPh: number };
export type Known = PotState & { readonly known: PotKnowledge };
/** Whether it can be followed: what it was last filled with is known. */
export const isKnown = (s: PotState): s is Known => s.known !== undefined && s.known.filledOn === s.lastFill?.on;

/** Next mixes by key: from the newest batch that was made for each; of a key never made, from what its pots were last filled with. */
export async function nextMixes(manager: EntityManager, meters: Meters, states: readonly Known[]): Promise<Map<string, NextMix>> {
  const keys = new Map<string, Known[]>();
  for (const s of states) keys.set(mixKey(s.watering), [...(keys.get(mixKey(s.watering)) ?? []), s]);
  const newest = await manager.query<Pick<Batch, 'id' | 'mixKey'>[]>(
    `SELECT b.id, j.value AS mixKey FROM json_each(?) j JOIN batch b ON b.id = (SELECT id FROM batch WHERE mixKey = j.value AND status = 'poured' ORDER BY startedAt DESC LIMIT 1)`,
    [JSON.stringify([...keys.keys()])],
  );
  const batchOf = new Map(newest.map((row) => [row.mixKey, row.id]));
  const chosen = [...keys].flatMap(([key, pots]): [string, string][] => {
    const id = batchOf.get(key) ?? pots.map((s) => s.lastFill?.payload.batchId).find(Boolean);
    return id ? [[key, id]] : [];
  });
  const mixes = await mixesOf(
    manager,
    meters,
    chosen.map(([, id]) => id),
  );
  const found = new Map<string, NextMix>();
  for (const [key, batchId] of chosen) {
    const mix = mixes.get(batchId);
    if (!mix) continue;
    const strength = strengthOf(mix.curve, keys.get(key)![0]!.aimEcUsCm);
    const standing = { strength, carbonMmolL: mix.curve.carbonMmolL, alkaliMeqL: 0 };
    const read = await firstPh(manager, meters, batchId);
    // Brought to the middle of what its regimen pours at: nobody pours it as it stands by itself.
    const { pourPhLow, pourPhHigh } = keys.get(key)![0]!.watering;
    const poured = standingAtPh(mix.curve, standing, (pourPhLow + pourPhHigh) / 2);
    found.set(key, { key, mix, standing: poured, naturalPh: read ?? standAt(mix.curve, standing) });
  }
  return found;
}

/** The first pH a batch was read at, before any acid; undefined where none was read by a pen that can be trusted. */
async function firstPh(manager: EntityManager, meters: Meters, batchId: string): Promise<number | undefined> {
  const [row] = await manager.query<(CareEvent & { phMeterId: string | null })[]>(
    `SELECT e.*, b.phMeterId FROM care_event e JOIN batch b ON b.id = e.batchId WHERE e.batchId = ? AND e.kind IN ('batchPh', 'batchCorrection') AND e.voidedBy IS NULL
     ORDER BY coalesce(e.standsAt, e.seq) LIMIT 1`,
    [batchId],
  );
  if (row?.kind !== 'batchPh') return undefined;
  const ph = readingMiddle((JSON.parse(row.payload) as { reading: Reading }).reading);
  return ph === undefined ? undefined : ph - phOffset(row.phMeterId === null ? undefined : meters.get(row.phMeterId), row.at);
}

/** A pot about to be filled with the next mix: old water at its due day, flushed as planned, the fresh mix on it. */
export function pourOf(
  s: Known,
  next: NextMix,
  waters: readonly WaterAtHand[],
  curves: ReadonlyMap<string, PlainWater>,
  today: string,
  latitude: number,
): PotToPour {
  const { known, pot } = s;
  const on = s.due.dueOn > today ? s.due.dueOn : today;
  const gone = Math.max(0, daysBetween(known.filledOn, on));
  const old = known.water;
  const course = courseOf(Math.max(1, gone));
  playPot(old, natureOf(known.belief, old, known.season), course);
  const poreMl = poresOf(pot);
  // The pores hold the old water as it will stand: thicker, with what clay and roots gave.
  let pores = [{ volume: poreMl, of: old.curve, standing: restingAt(old.curve, strengthOf(old.curve, course.ecUsCm.at(-1)!), course.ph.at(-1)!) }];
  for (const { waterId, ml } of flushNow(s, waters).stages) {
    const plain = curves.get(waterId)?.curve;
    if (!plain) continue;
    const left = shareLeft(ml, poreMl, known.efficiency.mean);
    pores = [...pores.map((part) => ({ ...part, volume: part.volume * left })), { volume: poreMl * (1 - left), of: plain, standing: asMade(plain) }];
  }
  const mixPart = { volume: pot.fillMl, of: next.mix.curve, standing: next.standing };
  const curve = blendCurves([mixPart, ...pores.filter((part) => part.volume > 0.001 * poreMl)]);
  return {
    id: pot.id,
    water: { curve, standing: asMade(curve), reservoirMl: pot.fillMl, poreMl },
    belief: known.belief,
    season: thirstOver(thirstOf(s.place, latitude), on, s.watering.everyDays),
    days: s.watering.everyDays,
    window: { low: s.drawing.phLow, high: s.drawing.phHigh },
    freshShare: pot.fillMl / (pot.fillMl + poreMl),
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

/** Where to pour a mix for all its pots that are due by a day. */
export async function adviseMix(
  manager: EntityManager,
  meters: Meters,
  states: readonly PotState[],
  key: string,
  waters: readonly WaterAtHand[],
  today: string,
  by: string,
  latitude: number,
): Promise<MixAdvice> {
  const due = potsOfBatch(states, key, by).filter(isKnown);
  const none: MixAdvice = { pourPh: null, days: 0, inside: 0, insideAtUsual: 0, pots: 0, suffer: [] };
  const next = (await nextMixes(manager, meters, due)).get(key);
  if (due.length === 0 || !next) return none;
  const curves = await waterCurves(manager, meters);
  const pots = due.map((s) => pourOf(s, next, waters, curves, today, latitude));
  const advice = advisePour(pots, 'steady')!;
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

/** What of each acid (or alkali) brings so many litres of the next mix from its own pH to another. */
export async function acidsFor(manager: EntityManager, next: NextMix, toPh: number, litres: number): Promise<AcidsFor> {
  const { naturalPh: fromPh, mix, standing } = next;
  const answer = { fromPh, toPh, litres };
  if (Math.abs(fromPh - toPh) < 0.05) return { ...answer, choices: [], why: 'The mix stands there by itself.' };
  const direction = fromPh > toPh ? 'down' : 'up';
  const total = anchoredAt(scaleComposition(mix.total, standing.strength), fromPh);
  const products = await manager.query<Product[]>('SELECT * FROM product WHERE kind = ? AND retiredOn IS NULL ORDER BY position', [
    direction === 'down' ? 'acid' : 'base',
  ]);
  const choices = products.flatMap((product): AcidsFor['choices'] => {
    const label = labelOf(product);
    if (!label) return [];
    const whole = wholeDose(
      {
        total,
        alkalinitySd: ALKALINITY_SD,
        responseSd: RESPONSE_SD,
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
        words: doseWords(whole.ml),
        brings,
        lasts: lastsWords(label.perUnit),
        caution: product.caution,
      },
    ];
  });
  const why = choices.length > 0 ? null : `No ${direction === 'down' ? 'acid' : 'alkali'} on the Shelf has a label that says how strong it is.`;
  return { ...answer, choices, why };
}
