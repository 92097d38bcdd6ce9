import type { Foretold } from './pot-belief.ts';

/*
 * Ranges by how earlier ones of their kind did. A reading beyond its range by a third says that ranges here are a third too narrow; after some weeks nine in
 * ten come true in whatever world the pots stand, and in a tame one the ranges grow narrower than they began (weighted conformal prediction: Vovk,
 * Gammerman & Shafer 2005; Tibshirani et al. 2019). What never happened yet starts wide.
 */

/** What makes a forecast harder than most. Each has to earn its own ranges. */
export const FORECAST_KINDS = ['new', 'overdue', 'kit', 'ammonium', 'hard', 'toppedUp', 'changed', 'hot'] as const;
export type ForecastKind = (typeof FORECAST_KINDS)[number];

/** A forecast beside what was read: how far off, in halves of its range; signed. */
export type Score = {
  readonly potId: string;
  readonly on: string;
  readonly kinds: readonly ForecastKind[];
  readonly off: Readonly<Partial<Record<keyof Foretold, number>>>;
};

/** Times the range below and above the middle. */
export type Width = { readonly below: number; readonly above: number };
export type Widths = Readonly<Record<keyof Foretold, Width>>;
const AS_IT_IS: Width = Object.freeze({ below: 1, above: 1 });
export const NOT_WIDENED: Widths = Object.freeze({ left: AS_IT_IS, ec: AS_IT_IS, ph: AS_IT_IS });

/** Weights of an earlier forecast: of the same pot, or of a neighbour of the same kind; for each kind that differs; and for each further back. */
const SAME_POT = 4;
const NEIGHBOUR = 3;
const OTHER_KIND = 0.15;
/** For what is special this time and was not then: of that the others tell next to nothing, however many they are. */
const NOT_YET_SPECIAL = 0.03;
const FADES = 0.94;
/** No range is narrower or wider than so many times what the model says. */
const LEAST = 0.45;
const MOST = 6;
/** What may come out otherwise each time it happens. The others are a pot's lot, and told by its own readings. */
const SPECIAL: ReadonlySet<ForecastKind> = new Set(['new', 'overdue', 'toppedUp', 'changed', 'hot']);
/** Before anything came true: as if so many forecasts had been, spread like these (a normal with heavy tails), and more and wider where it is special. */
const STARTS_WITH = 6;
const SPECIAL_STARTS_WITH = 4;
const SPECIAL_WIDER = 0.35;
const AT_FIRST = [0.04, 0.12, 0.2, 0.28, 0.37, 0.46, 0.57, 0.69, 0.85, 1.2].map((q) => 1.2 * q);
const HOLDS = 0.95;
/** Of the two sides' own quantiles so much counts; the rest is their mean: one side alone has few misses. */
const OWN_SIDE = 0.6;

/** How earlier forecasts came true: of the pot, and of others of the collection; each oldest first. */
export type Earlier = { readonly own: readonly Score[]; readonly others: readonly Score[] };

/** Widths for a forecast of a pot by those that were read before it. */
export function calibrate(earlier: Earlier, kinds: readonly ForecastKind[]): Widths {
  return {
    left: widthOf(earlier, kinds, 'left'),
    ec: widthOf(earlier, kinds, 'ec'),
    ph: widthOf(earlier, kinds, 'ph'),
  };
}

type Weighed = [size: number, weight: number];

function widthOf({ own, others }: Earlier, kinds: readonly ForecastKind[], what: keyof Foretold): Width {
  const special = Math.min(2, kinds.filter((kind) => SPECIAL.has(kind)).length);
  const starts = (STARTS_WITH + SPECIAL_STARTS_WITH * special) / AT_FIRST.length;
  const scores: Weighed[] = AT_FIRST.flatMap((q): Weighed[] => {
    const size = q * (1 + SPECIAL_WIDER * special);
    return [
      [size, starts / 2],
      [-size, starts / 2],
    ];
  });
  weigh(scores, own, kinds, what, SAME_POT, FADES);
  weigh(scores, others, kinds, what, NEIGHBOUR, OTHERS_FADE);
  const high = quantile(scores, HOLDS);
  const low = quantile(
    scores.map(([size, weight]): Weighed => [-size, weight]),
    HOLDS,
  );
  const mean = (low + high) / 2;
  // A side that lies far out is a model that leans, and stands by itself.
  const held = (side: number) => Math.min(MOST, Math.max(LEAST, side, OWN_SIDE * side + (1 - OWN_SIDE) * mean));
  return { below: held(low), above: held(high) };
}

function weigh(
  into: Weighed[],
  scores: readonly Score[],
  kinds: readonly ForecastKind[],
  what: keyof Foretold,
  counts: number,
  fades: number,
): void {
  let weight = counts;
  for (let i = scores.length - 1; i >= 0; i--) {
    const { off, kinds: theirs } = scores[i]!;
    if (off[what] === undefined) continue;
    into.push([off[what], weight * likeness(kinds, theirs)]);
    weight *= fades;
  }
}
/** How much a forecast of some kinds tells of one of others. */
function likeness(kinds: readonly ForecastKind[], theirs: readonly ForecastKind[]): number {
  return FORECAST_KINDS.reduce((like, kind) => {
    if (kinds.includes(kind) === theirs.includes(kind)) return like;
    return like * (SPECIAL.has(kind) && kinds.includes(kind) ? NOT_YET_SPECIAL : OTHER_KIND);
  }, 1);
}

/** Neighbours' forecasts are many: of a shelf of a dozen the last rounds count. */
const OTHERS_FADE = 0.985;

function quantile(values: Weighed[], share: number): number {
  values.sort((a, b) => a[0] - b[0]);
  const whole = values.reduce((sum, [, weight]) => sum + weight, 0);
  let sum = 0;
  for (const [value, weight] of values) {
    sum += weight;
    if (sum >= share * whole) return value;
  }
  return values.at(-1)![0];
}

/** A range as wide as it has to be. @param scale ln: of figures that are above nothing by their nature */
export function widened(
  { low, middle, high }: { readonly low: number; readonly middle: number; readonly high: number },
  { below, above }: Width,
  scale: 'plain' | 'ln',
  least = -Infinity,
  most = Infinity,
): { low: number; middle: number; high: number } {
  if (below === 1 && above === 1) return { low, middle, high };
  if (scale === 'ln' && low > 0)
    return { low: middle * (low / middle) ** below, middle, high: middle * (high / middle) ** above };
  return {
    low: Math.max(least, middle - below * (middle - low)),
    middle,
    high: Math.min(most, middle + above * (high - middle)),
  };
}

/** A reading against what was foretold of it, in halves of the range. */
export function scoreOf(
  foretold: Foretold,
  read: { readonly left: number | undefined; readonly ec: number | undefined; readonly ph: number | undefined },
): Score['off'] {
  const off: Partial<Record<keyof Foretold, number>> = {};
  for (const what of ['left', 'ec', 'ph'] as const) {
    const figure = read[what];
    if (figure !== undefined && Number.isFinite(figure))
      off[what] = (figure - foretold[what].middle) / Math.max(1e-6, foretold[what].half);
  }
  return off;
}
