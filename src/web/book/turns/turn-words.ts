import type { TurnCompared, TurnFoundView, TurnKind, TurnMeasure } from '../../../contract/turns.ts';
import type { IconName } from '../../drawing/icon.tsx';
import { fromMl, LARGE_UNIT } from '../../../core/quantity/index.ts';
import { largeSign, money, ownUnits, phText, ppmText } from '../../shell/format.ts';

type Shown = {
  readonly name: string;
  /** What its figures are, under the name. */
  readonly of: string;
  /** A figure without its unit. */
  readonly text: (value: number) => string;
  readonly unit: () => string;
  /** What is said of more of it, and of less. */
  readonly more: string;
  readonly less: string;
  /** Whether more of it is good news; null where it depends. */
  readonly moreIsGood: boolean | null;
  /** At least so high a scale, so that a flat line looks flat. */
  readonly span: number;
};

const percent = (share: number) => String(Math.round(100 * share));
const inOwn = (litres: number) => fromMl(1000 * litres, LARGE_UNIT[ownUnits()].unit);

export const MEASURE: Readonly<Record<TurnMeasure, Shown>> = {
  onTime: {
    name: 'Rounds on time',
    of: 'share of visits, %',
    text: percent,
    unit: () => '%',
    more: 'more on time',
    less: 'later',
    moreIsGood: true,
    span: 0.4,
  },
  gap: {
    name: 'Run-off gap',
    of: 'old less poured, median',
    text: ppmText,
    unit: () => 'ppm',
    more: 'more salt gathering',
    less: 'less salt gathering',
    moreIsGood: false,
    span: 40,
  },
  ph: {
    name: 'pH at change',
    of: 'median',
    text: phText,
    unit: () => '',
    more: 'higher',
    less: 'lower',
    moreIsGood: null,
    span: 1,
  },
  inWindow: {
    name: 'In the window',
    of: 'pH 5.5 to 6.5, %',
    text: percent,
    unit: () => '%',
    more: 'more in the window',
    less: 'fewer in the window',
    moreIsGood: true,
    span: 0.5,
  },
  dry: {
    name: 'Found dry',
    of: 'share of visits, %',
    text: percent,
    unit: () => '%',
    more: 'more found dry',
    less: 'fewer found dry',
    moreIsGood: false,
    span: 0.3,
  },
  still: {
    name: 'Still water',
    of: 'a pot, a week',
    text: (v) => inOwn(v).toFixed(2),
    unit: largeSign,
    more: 'costs more water',
    less: 'takes less water',
    moreIsGood: false,
    span: 0.2,
  },
  cost: {
    name: 'Cost',
    of: 'a pot, a year',
    text: money,
    unit: () => '',
    more: 'costs more',
    less: 'costs less',
    moreIsGood: false,
    span: 0.5,
  },
  troubles: {
    name: 'Troubles seen',
    of: 'share of looks, %',
    text: percent,
    unit: () => '%',
    more: 'more troubles seen',
    less: 'fewer troubles seen',
    moreIsGood: false,
    span: 0.3,
  },
  growth: {
    name: 'Leaf growth',
    of: 'longest leaf, % a month',
    text: (v) => (100 * (Math.exp(v) - 1)).toFixed(1),
    unit: () => '%',
    more: 'grows faster',
    less: 'grows slower',
    moreIsGood: true,
    span: 0.06,
  },
};
/** Drawn at first; the others are asked for. */
export const FIRST: readonly TurnMeasure[] = ['onTime', 'gap', 'ph', 'still'];

export const TURN_ICON: Readonly<Record<TurnKind, IconName>> = {
  regimen: 'calendarCheck',
  feed: 'eyedropper',
  water: 'dropletHalf',
  clay: 'pebbles',
  pen: 'pencil',
  penOff: 'exclamationTriangle',
  place: 'arrowsMove',
  light: 'flower',
  treatment: 'hourglass',
  trial: 'graphUp',
  own: 'book',
};

export type Verdict = { readonly words: string; readonly tone: 'good' | 'late' | '' };

/** What may be said of a measure at a turn: never more than its interval. */
export function verdictOf(found: TurnFoundView): Verdict {
  const { text } = MEASURE[found.key];
  const { difference, before, after } = found;
  if (!difference)
    return {
      words: found.against === 'nothing' ? 'no saying whether it was the season' : 'too few readings to say',
      tone: '',
    };
  return ofInterval(found.key, difference, text(before) === text(after));
}

/** What an interval lets one say. @param hardly that the figures read the same as they are shown */
export function ofInterval(key: TurnMeasure, { mean, low, high }: Interval, hardly = false): Verdict {
  const { more, less, moreIsGood } = MEASURE[key];
  if (low <= 0 && high >= 0) return { words: 'no difference to be seen', tone: '' };
  if (hardly) return { words: 'hardly any', tone: '' };
  const up = mean > 0;
  const tone = moreIsGood === null ? '' : up === moreIsGood ? 'good' : 'late';
  return { words: up ? more : less, tone };
}
type Interval = { readonly mean: number; readonly low: number; readonly high: number };

/** "−30 (−45 to −15) ppm". */
export function rangeWords(key: TurnMeasure, { mean, low, high }: Interval): string {
  const { text, unit } = MEASURE[key];
  const signed = (v: number) => (v < 0 ? `−${text(-v)}` : text(v));
  return `${signed(mean)} (${signed(low)} to ${signed(high)})${unit() && ` ${unit()}`}`;
}

/** "−9 to 15 ppm, against 12 pots that did not turn". */
export function intervalWords({ key, difference, against }: TurnFoundView): string {
  if (!difference) return '';
  const beside =
    against === 'unchanged'
      ? 'against pots of the same place that did not turn'
      : 'against the same weeks a year before';
  return `${rangeWords(key, difference)}, ${beside}`;
}

/** What the comparison stands on, in a sentence. */
export function standsOn({ found, weeksSince, weeks, alsoMoved }: TurnCompared): string {
  const against = new Set(found.map((f) => f.against));
  const parts = [
    weeksSince < weeks ? `Only ${weeksSince === 1 ? 'one week has' : `${weeksSince} weeks have`} gone by since.` : '',
    against.has('unchanged')
      ? 'Set against pots of the same place that did not turn.'
      : against.has('yearBefore')
        ? 'Set against the same weeks of the year before.'
        : found.length > 0
          ? 'No pot of the same place stayed as it was, and a year before there are no readings: the season’s own change is in these figures.'
          : 'Nothing was read on both sides of it.',
    alsoMoved.length === 0
      ? 'Nothing else moved in these weeks.'
      : `Also in these weeks: ${alsoMoved.map(({ title }) => title).join('; ')}.`,
  ];
  return parts.filter(Boolean).join(' ');
}
