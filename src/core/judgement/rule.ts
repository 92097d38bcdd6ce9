import type { LocalDate } from '../regimen/index.ts';
import type { PotFacts } from './facts.ts';

/** What an advice stands on: one reading, look, or figure. `weight` below 1 for a reading of a pen later found off. */
export type Evidence = {
  readonly on: LocalDate;
  readonly words: string;
  readonly eventId?: string;
  readonly weight: number;
};

/** What taking an advice up means. */
export type SuggestedAct =
  | { readonly kind: 'plan'; /** What is to be done, as it stands on the round. */ readonly words: string }
  | { readonly kind: 'plainOnly' }
  | { readonly kind: 'backToFeed' }
  | { readonly kind: 'hold'; /** Nothing is done, on purpose. */ readonly words: string };

export type Finding = {
  readonly title: string;
  /** In one sentence what was seen. */
  readonly because: string;
  /** What to expect of it, or why in this order. */
  readonly then: string;
  readonly act: SuggestedAct;
  readonly evidence: readonly Evidence[];
  /** 0 to 1. */
  readonly sure: number;
  /** Figures for a small picture, oldest first. */
  readonly figures?: readonly { readonly label: string; readonly value: number }[];
  /** They are conductivities, µS/cm, to be shown on the grower's own pen. */
  readonly figuresAreEc?: true;
};

/** What a finding is about, in the order in which it comes first where two want opposite things. */
export const MATTERS = [
  'danger',
  'water',
  'salt',
  'roots',
  'ph',
  'calcium',
  'magnesium',
  'feed',
  'season',
  'pest',
  'form',
] as const;
export type Matter = (typeof MATTERS)[number];

/** A rule: what is seen, what to think, what to do, where that comes from, and the test over the facts. */
export type Rule = {
  readonly id: string;
  readonly matter: Matter;
  readonly seen: string;
  readonly think: string;
  readonly act: string;
  readonly source: 'common practice' | 'model' | 'ours';
  /** Which model, or what is ours of it. */
  readonly sourceWords?: string;
  /** One reading is enough: waiting would hurt. */
  readonly danger?: true;
  /** Rules that have nothing to say once this one has: it is the cause, or it must come first. */
  readonly silences?: readonly string[];
  readonly find: (facts: PotFacts) => Finding | undefined;
};

/** An advice: what a rule found, and which. */
export type Advice = Finding & { readonly rule: string; readonly matter: Matter; readonly evidenceKey: string };
