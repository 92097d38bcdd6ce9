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
          seen: `${outside.length} of ${ph.length} come-outs stood outside 5 to 7 (${outside.map((p) => p.toFixed(1)).join(', ')}).`,
        }
      : ph.length >= ENOUGH
        ? {
            verdict: 'cleared',
            seen: `${ph.length} come-outs stood between ${Math.min(...ph).toFixed(1)} and ${Math.max(...ph).toFixed(1)}.`,
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

/** A question to whoever stands at the pot, and where each answer leads: to another question, or to what it is. */
export type GuideQuestion = { readonly ask: string; readonly hint: string; readonly yes: string; readonly no: string };
export type GuideEnd = {
  readonly title: string;
  readonly then: string;
  /** How it is noted in its look: cue and grade. */
  readonly cue?: { readonly cue: string; readonly grade: string };
};
export type Guide = {
  readonly id: 'saltOrMould' | 'scarOrHunger';
  readonly title: string;
  readonly first: string;
  readonly questions: Readonly<Record<string, GuideQuestion>>;
  readonly ends: Readonly<Record<string, GuideEnd>>;
};

/** What looks alike and wants opposite things (common practice). */
export const GUIDES: readonly Guide[] = [
  {
    id: 'saltOrMould',
    title: 'Salt or mould?',
    first: 'where',
    questions: {
      where: {
        ask: 'Is the white on an air root, fine as velvet?',
        hint: 'Look at the root, not the clay under it.',
        yes: 'hairs',
        no: 'hard',
      },
      hard: { ask: 'Is it hard, like scale or sugar?', hint: 'Scratch it with a nail.', yes: 'rinses', no: 'fuzzy' },
      rinses: {
        ask: 'Does it come off under warm water?',
        hint: 'Half a minute under the tap, or a wet brush.',
        yes: 'salts',
        no: 'scale',
      },
      fuzzy: {
        ask: 'Is it fuzzy, and wipes off dry?',
        hint: 'A dry cloth takes mould; salts crumble.',
        yes: 'mould',
        no: 'unsure',
      },
    },
    ends: {
      hairs: {
        title: 'Root hairs: nothing to do',
        then: 'White fuzz on air roots is how they take up water. Leave it, and do not wipe.',
      },
      salts: {
        title: 'Salts',
        then: 'They wick up and dry at the top and the holes. Flush from the top with still water, or plain still water only until it is gone; then weaker, or more flushing.',
        cue: { cue: 'crust', grade: 'some' },
      },
      scale: {
        title: 'Lime from the water',
        then: 'It is carbonate, which water does not take. It shows hard water or a pH over 7.5, where feed drops out with it: softer water, poured lower.',
        cue: { cue: 'crust', grade: 'some' },
      },
      mould: {
        title: 'Mould',
        then: 'It lives on what lies on the clay and hurts the pot little. Wipe it off, more air, let the top dry between. No flush helps it.',
        cue: { cue: 'mould', grade: 'fuzzy' },
      },
      unsure: {
        title: 'Wait and look again',
        then: 'Rinse a patch with still water today and look at it in a week. Back and hard: salts. Back and soft: mould.',
      },
    },
  },
  {
    id: 'scarOrHunger',
    title: 'Sun scar or hunger?',
    first: 'patch',
    questions: {
      patch: {
        ask: 'Is it a bleached patch with an edge, on the side to the light?',
        hint: 'Hunger goes over the whole leaf, or along its veins.',
        yes: 'sudden',
        no: 'old',
      },
      sudden: {
        ask: 'Did it come within days of sun, a move, or a soak outdoors?',
        hint: 'An hour of strong sun can be enough.',
        yes: 'sun',
        no: 'feel',
      },
      feel: {
        ask: 'Is the patch dry and papery?',
        hint: 'Wet and soft is rot or cold, not sun.',
        yes: 'sun',
        no: 'soft',
      },
      old: {
        ask: 'Are the older leaves paler, and the new ones green?',
        hint: 'Magnesium is moved from old leaves to new ones.',
        yes: 'magnesium',
        no: 'new',
      },
      new: {
        ask: 'Is the new growth pale, or are there watery marks?',
        hint: 'Calcium and iron are not moved: the newest leaf lacks them first.',
        yes: 'feed',
        no: 'tips',
      },
      tips: { ask: 'Are only the tips brown?', hint: 'Look at the newest leaves.', yes: 'calcium', no: 'light' },
    },
    ends: {
      sun: {
        title: 'Sun scar',
        then: 'It stays, and does not spread. Shade it, then move it to light by steps. Silicate is no sun-proofing.',
        cue: { cue: 'sun', grade: 'scar' },
      },
      soft: {
        title: 'Not sun: look for rot',
        then: 'A soft wet patch is rot, or cold. Cut to firm tissue with a clean blade and keep it dry.',
        cue: { cue: 'rot', grade: 'soft' },
      },
      magnesium: {
        title: 'Magnesium',
        then: 'In its next soak where its season is open, else a pinch with the calcium–magnesium.',
        cue: { cue: 'leaves', grade: 'old pale' },
      },
      feed: {
        title: 'Hungry, or its pH is out',
        then: 'Calcium–magnesium one week, feed the next; read its pH first, for over 7 iron is locked away.',
        cue: { cue: 'growth', grade: 'pale' },
      },
      calcium: {
        title: 'Calcium, or salts',
        then: 'Calcium before more feed. If it also comes out well over its pour, flush first.',
        cue: { cue: 'tips', grade: 'brown' },
      },
      light: {
        title: 'Too dark, more likely',
        then: 'Pale, soft and long is too little light. Move it by steps; feed does not replace light.',
      },
    },
  },
];
