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
