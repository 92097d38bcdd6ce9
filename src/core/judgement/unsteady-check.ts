import { phs, ratios } from './measures.ts';
import type { PotFacts } from './facts.ts';

/*
 * Checks that go step by step (common practice, in its order). What the log can answer it answers; the rest is asked of whoever stands at the pot.
 */

/** One step of the check of an unsteady reservoir. `ask` is put where the log cannot tell. */
export type UnsteadyStep = {
  readonly id: 'ph' | 'lost' | 'age' | 'base' | 'order' | 'pen';
  readonly title: string;
  readonly verdict: 'found' | 'cleared' | 'ask';
  /** What the log says, or why it says nothing. Strengths in braces, µS/cm. */
  readonly seen: string;
  readonly ask: string;
  /** What it means, and what to do, where it is so. */
  readonly then: string;
};

/** What of the mixes and the pen decides, beside the pot's own log. */
export type MixFacts = {
  /** Of the mixes last poured: how many, how many without a reading of their water, and how many were only read once acid was in. */
  readonly mixes: number;
  readonly withoutBase: number;
  readonly readAfterAcid: number;
  /** Pens its readings were taken with. */
  readonly pens: number;
  /** Since the pen was last found good, days; absent where it never was. */
  readonly penGoodDays?: number | undefined;
};

/** Enough readings to speak of a range. */
const ENOUGH = 3;
/** A pen is checked monthly (common practice). */
const PEN_HOLDS_DAYS = 35;
/** Left by so much more one time than another, share of the reservoir, or stood so many days longer, the strength must differ. House rules. */
const LEFT_DIFFERS = 0.3;
const DAYS_DIFFER = 4;

type Recent = Pick<PotFacts, 'visits' | 'reservoirMl'>;
const span = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
const percent = (share: number) => `${Math.round(100 * share)} %`;

/** Why what comes out swings: pH out of range, water lost, old solution, base not deducted, strength read after acid, pen off, in this order. */
export function unsteadyCheck(facts: Recent, mix: MixFacts): UnsteadyStep[] {
  const recent = { ...facts, visits: facts.visits.slice(-6) };
  return [phStep(recent), lostStep(recent), ageStep(recent), baseStep(mix), orderStep(mix), penStep(recent, mix)];
}

function phStep(recent: Recent): UnsteadyStep {
  const ph = phs(recent).map((p) => p.ph);
  const outside = ph.filter((p) => p < 5 || p > 7);
  return {
    id: 'ph',
    title: 'Its pH',
    ...(outside.length > 0
      ? {
          verdict: 'found',
          seen: `${outside.length} of ${ph.length} old reservoirs stood outside 5 to 7 (${outside.map((p) => p.toFixed(1)).join(', ')}).`,
        }
      : ph.length >= ENOUGH
        ? {
            verdict: 'cleared',
            seen: `${ph.length} old reservoirs stood between ${Math.min(...ph).toFixed(1)} and ${Math.max(...ph).toFixed(1)}.`,
          }
        : { verdict: 'ask', seen: 'It was hardly read.' }),
    ask: 'Read it now: is it outside 5 to 7?',
    then: 'Out of range salts drop out and dissolve again, and the strength with them. Pour where Drift says it stays inside.',
  };
}

function lostStep({ visits, reservoirMl }: Recent): UnsteadyStep {
  const left = visits.flatMap((v) => (v.leftMl === undefined ? [] : [v.leftMl / reservoirMl]));
  return {
    id: 'lost',
    title: 'Water lost',
    ...(left.length < ENOUGH
      ? { verdict: 'ask', seen: 'What was left was hardly noted.' }
      : span(left) > LEFT_DIFFERS
        ? {
            verdict: 'found',
            seen: `Between ${percent(Math.min(...left))} and ${percent(Math.max(...left))} were left: the less water, the stronger it reads.`,
          }
        : {
            verdict: 'cleared',
            seen: `About as much was left each time (${percent(Math.min(...left))} to ${percent(Math.max(...left))}).`,
          }),
    ask: 'Was much less left in it some times than others?',
    then: 'Nothing is wrong with the feed: it thickens as it is drunk. Judge it beside what is left, or come sooner in hot weeks.',
  };
}

function ageStep({ visits }: Recent): UnsteadyStep {
  const days = visits.map((v) => v.days);
  return {
    id: 'age',
    title: 'How long it stood',
    ...(days.length < ENOUGH
      ? { verdict: 'ask', seen: 'There are few visits yet.' }
      : span(days) >= DAYS_DIFFER
        ? { verdict: 'found', seen: `It stood from ${Math.min(...days)} to ${Math.max(...days)} days.` }
        : {
            verdict: 'cleared',
            seen: `It stood about as long each time (${Math.min(...days)} to ${Math.max(...days)} days).`,
          }),
    ask: 'Did it stand much longer some times?',
    then: 'Old solution has lost nitrogen and gathered salts. Change it on its day, and compare like with like.',
  };
}

function baseStep(mix: MixFacts): UnsteadyStep {
  return {
    id: 'base',
    title: 'The water’s own minerals',
    ...(mix.mixes === 0
      ? { verdict: 'ask', seen: 'Its mixes were not logged at the bench.' }
      : mix.withoutBase > 0
        ? {
            verdict: 'found',
            seen: `${mix.withoutBase} of its last ${mix.mixes} mixes were made without reading the water first.`,
          }
        : { verdict: 'cleared', seen: `The water was read before each of its last ${mix.mixes} mixes.` }),
    ask: 'Was the water’s own reading left in the figure some times?',
    then: 'Read the water before the first drop each time: its minerals are no feed, and they differ from day to day.',
  };
}

function orderStep(mix: MixFacts): UnsteadyStep {
  return {
    id: 'order',
    title: 'Read before the acid',
    ...(mix.mixes === 0
      ? { verdict: 'ask', seen: 'Its mixes were not logged at the bench.' }
      : mix.readAfterAcid > 0
        ? {
            verdict: 'found',
            seen: `${mix.readAfterAcid} of its last ${mix.mixes} mixes had their strength read with acid in.`,
          }
        : { verdict: 'cleared', seen: 'The strength was read before the acid each time.' }),
    ask: 'Was the strength read after the acid some times?',
    then: 'Acid counts on the pen and is no feed. Strength first, then pH.',
  };
}

function penStep(recent: Recent, mix: MixFacts): UnsteadyStep {
  const said = ratios(recent).length;
  return {
    id: 'pen',
    title: 'The pen',
    ...(mix.pens > 1
      ? { verdict: 'found', seen: `Its readings are of ${mix.pens} pens.` }
      : said === 0
        ? { verdict: 'ask', seen: 'Nothing was read with a pen.' }
        : mix.penGoodDays === undefined
          ? { verdict: 'ask', seen: 'Its pen was never checked here.' }
          : mix.penGoodDays > PEN_HOLDS_DAYS
            ? { verdict: 'ask', seen: `Its pen was last found good ${mix.penGoodDays} days ago.` }
            : { verdict: 'cleared', seen: `Its pen was found good ${mix.penGoodDays} days ago.` }),
    ask: 'Dip it in its standard: is it off?',
    then: 'Calibrate it, or mark it off on the Shelf; what it read since counts for less.',
  };
}
