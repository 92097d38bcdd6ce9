import type { RegimenValues } from '../../contract/regimens.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { ML_PER_UNIT } from '../../core/quantity/index.ts';
import { SOAKS } from '../../core/regimen/index.ts';

/** One watering of the form, as typed. */
export type FeedTexts = {
  what: RegimenValues['feeds'][number]['what'];
  netPpm: string;
  /** How much goes in: to a strength by the pen, or by measure. */
  by: DoseBy;
  /** By measure: mL a litre, teaspoons a gallon, or percent of the label's dose. */
  dose: string;
  phLow: string;
  phHigh: string;
  days: string;
};
export const DOSE_BY = ['net', 'perL', 'tspGal', 'label'] as const;
export type DoseBy = (typeof DOSE_BY)[number];
export const DOSE_LABELS: Record<DoseBy, string> = {
  net: 'by the pen',
  perL: 'mL (g) a litre',
  tspGal: 'tsp a US gallon',
  label: 'by the label',
};
export const DOSE_FIGURES: Record<DoseBy, string> = {
  net: 'ppm over the water',
  perL: 'mL (g) a litre',
  tspGal: 'tsp a US gallon',
  label: '% of the label',
};
/** mL a litre of a teaspoon in a US gallon. */
const TSP_GAL = ML_PER_UNIT.usTeaspoon / (ML_PER_UNIT.usGallon / 1000);
/** One soak of the form, as typed. */
export type SoakTexts = Omit<
  RegimenValues['soaks'][number],
  'netPpm' | 'sio2MgL' | 'firstSio2MgL' | 'phLow' | 'phHigh' | 'holdMinutes'
> &
  Record<'netPpm' | 'sio2MgL' | 'firstSio2MgL' | 'phLow' | 'phHigh' | 'holdMinutes', string>;
/** The regimen form: figures as text, choices as they are. Shares are typed in percent. */
export type RegimenTexts = Omit<
  RegimenValues,
  'feeds' | 'soaks' | 'latestDays' | 'flushTimes' | 'restShare' | 'rootingShare' | 'tenderShare'
> & {
  feeds: FeedTexts[];
  soaks: SoakTexts[];
} & Record<'latestDays' | 'flushTimes' | 'restShare' | 'rootingShare' | 'tenderShare', string>;

const text = (value: number | null) => (value === null ? '' : String(value));
function doseTexts(dose: RegimenValues['feeds'][number]['dose']): Pick<FeedTexts, 'by' | 'dose'> {
  if (dose === null) return { by: 'net', dose: '' };
  return dose.by === 'perL'
    ? { by: 'perL', dose: String(Number(dose.units.toPrecision(4))) }
    : { by: 'label', dose: percent(dose.share) };
}
/** What was typed as a dose; what is no number goes as typed, to be refused with its message. */
function toDose({ what, by, dose }: FeedTexts): object | null {
  if (by === 'net' || what === 'plain') return null;
  if (by === 'label') return { by, share: share(dose) };
  const typed = typedNumber(dose);
  return { by: 'perL', units: by === 'tspGal' && typeof typed === 'number' ? typed * TSP_GAL : typed };
}
/** "1 tsp a US gallon is 1.3 mL a litre": where another measure was typed than is kept. */
export function alsoWords({ by, dose }: FeedTexts): string | undefined {
  const typed = typedNumber(dose);
  return by === 'tspGal' && typeof typed === 'number'
    ? `that is ${Number((typed * TSP_GAL).toPrecision(2))} mL a litre`
    : undefined;
}
const percent = (share: number) => String(Math.round(share * 100));
/** A share typed in percent; what is no number goes as typed, to be refused with its message. */
const share = (typed: string) => {
  const value = typedNumber(typed);
  return typeof value === 'number' ? value / 100 : value;
};

export function toRegimenTexts(v: RegimenValues): RegimenTexts {
  return {
    ...v,
    feeds: v.feeds.map((f) => ({
      what: f.what,
      netPpm: String(f.netPpm),
      ...doseTexts(f.dose),
      phLow: String(f.phLow),
      phHigh: String(f.phHigh),
      days: String(f.days),
    })),
    soaks: v.soaks.map((s) => ({
      ...s,
      netPpm: text(s.netPpm),
      sio2MgL: text(s.sio2MgL),
      firstSio2MgL: text(s.firstSio2MgL),
      phLow: String(s.phLow),
      phHigh: String(s.phHigh),
      holdMinutes: String(s.holdMinutes),
    })),
    latestDays: text(v.latestDays),
    flushTimes: String(v.flushTimes),
    restShare: percent(v.restShare),
    rootingShare: percent(v.rootingShare),
    tenderShare: percent(v.tenderShare),
  };
}

/** What was typed as the act's values. */
export function toRegimenValues(t: RegimenTexts): object {
  return {
    ...t,
    feeds: t.feeds.map((f) => ({
      what: f.what,
      netPpm: f.what === 'plain' ? 0 : f.by === 'net' ? typedNumber(f.netPpm) : 1,
      dose: toDose(f),
      phLow: typedNumber(f.phLow),
      phHigh: typedNumber(f.phHigh),
      days: typedNumber(f.days),
    })),
    soaks: t.soaks.map((s) => ({
      ...s,
      netPpm: SOAKS[s.what].byPen ? typedNumber(s.netPpm) : null,
      sio2MgL: SOAKS[s.what].silica ? typedNumber(s.sio2MgL) : null,
      firstSio2MgL: SOAKS[s.what].silica ? typedNumber(s.firstSio2MgL) : null,
      phLow: typedNumber(s.phLow),
      phHigh: typedNumber(s.phHigh),
      holdMinutes: typedNumber(s.holdMinutes),
    })),
    latestDays: typedNumber(t.latestDays),
    flushTimes: typedNumber(t.flushTimes),
    restShare: share(t.restShare),
    rootingShare: share(t.rootingShare),
    tenderShare: share(t.tenderShare),
  };
}

/** The usual weak feed: what a collection begins with. */
export const FIRST_REGIMEN: RegimenValues = {
  name: 'Dilute 90, weekly',
  school: 'constantDilute',
  feeds: [{ what: 'feed', netPpm: 90, dose: null, phLow: 5.5, phHigh: 6.5, days: 7 }],
  latestDays: null,
  flushAt: 'watering',
  flushTimes: 3,
  flushWith: 'plentiful',
  wash: false,
  soaks: [],
  restShare: 1,
  rootingShare: 1,
  inBud: 'same',
  soaksOnlyInGrowth: true,
  tenderShare: 1,
  byHeight: false,
  fillWith: null,
  morning: true,
  dryBeforeSoak: false,
};

/** Of one who has no strength pen: what most begin with who feed at every watering (common practice). */
export const FIRST_BY_LABEL: RegimenValues = {
  ...FIRST_REGIMEN,
  name: 'A quarter of the label, weekly',
  feeds: [{ ...FIRST_REGIMEN.feeds[0]!, dose: { by: 'label', share: 0.25 } }],
};

export const FEED_LABELS: Record<FeedTexts['what'], string> = {
  feed: 'feed',
  calmag: 'calcium–magnesium',
  feedSilicate: 'feed with silicate',
  plain: 'plain water',
};
export const MONTH_LETTERS = ['J', 'F', 'M', 'A', 'M', 'J', 'J', 'A', 'S', 'O', 'N', 'D'];
export const MONTH_NAMES = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
