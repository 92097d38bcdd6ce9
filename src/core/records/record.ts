import {
  ML_PER_UNIT,
  NOT_MEASURED,
  parseVolume,
  PH_LIMITS,
  PPM_LIMITS,
  type Reading,
  type VolumeUnit,
} from '../quantity/index.ts';
import { minuteIn, momentIn, type DayForm, type Moment } from './day-form.ts';
import { figureIn, isNothing, readingIn, type DecimalMark, type Sign } from './figure.ts';
import type { ColumnRole, StrengthUnit } from './heading.ts';

/* A line of an old table read: what it says of a pot on a day, or what is wrong with it and where. */

/** How a table is to be read. `penScale`: ppm a µS/cm of the pen its strengths are kept on. */
export type SheetPlan = {
  readonly columns: readonly ColumnRole[];
  readonly dayForm: DayForm;
  readonly mark: DecimalMark;
  readonly strength: StrengthUnit | null;
  readonly penScale: number;
  readonly volume: VolumeUnit | null;
};

/** What a line says. Volumes in mL, strengths in ppm on the pen's scale. `pot`: as it is called in the table; null where it has no such column. */
export type SheetRecord = {
  readonly when: Moment;
  readonly pot: string | null;
  readonly outStrength: Reading;
  readonly outPh: Reading;
  readonly inStrength: Reading;
  readonly inPh: Reading;
  readonly leftMl: number | null;
  readonly pouredMl: number | null;
  readonly flushedMl: number | null;
  readonly temperatureC: number | null;
  readonly note: string;
};
export type SheetProblem = { readonly column: number | null; readonly message: string };
export type ReadRecord =
  | { readonly ok: true; readonly record: SheetRecord }
  | { readonly ok: false; readonly problems: readonly SheetProblem[] };

const FORM_EXAMPLES: Readonly<Record<DayForm, string>> = {
  iso: '2024-05-03',
  dayFirst: '3/5/2024, the day first',
  monthFirst: '5/3/2024, the month first',
  words: '3 May 2024',
  serial: '45415, a day’s number',
};
const MARK_WORDS: Readonly<Record<DecimalMark, string>> = { point: 'a point', comma: 'a comma' };
const MOST_NOTE = 2000;

/** ppm on the pen for one of the table's unit. */
export function ppmPer(unit: StrengthUnit, penScale: number): number {
  return unit.as === 'ppm' ? penScale / unit.scale : penScale * (unit.as === 'mS/cm' ? 1000 : 1);
}

/** Reads one line. Nothing is guessed: what cannot be read is told at its column, with how it should be written. */
export function readRecord(cells: readonly string[], plan: SheetPlan): ReadRecord {
  const problems: SheetProblem[] = [];
  const columnOf = (role: ColumnRole) => plan.columns.indexOf(role);
  const cell = (role: ColumnRole) => (cells[columnOf(role)] ?? '').trim();
  const say = (role: ColumnRole, message: string) => {
    const column = columnOf(role);
    problems.push({ column: column < 0 ? null : column, message });
  };
  const when = whenIn(cell('day'), columnOf('time') < 0 ? null : cell('time'), plan.dayForm, say);
  const reading = (
    role: ColumnRole,
    limits: { low: number; high: number },
    how: { times?: number; digits: number; sign: Sign },
  ): Reading => {
    const text = cell(role);
    const read = /^(?:over(?: ?range)?|o\.?l\.?|err)$/i.test(text)
      ? ({ kind: 'overRange' } as const)
      : readingIn(plan.mark, text, how);
    if (read && inside(read, limits)) return read;
    say(role, read ? `"${text}" is past what a pen shows: ${limits.low} to ${limits.high}` : noFigure(text, plan.mark));
    return NOT_MEASURED;
  };
  const perUnit = plan.strength === null ? 1 : ppmPer(plan.strength, plan.penScale);
  const unit = plan.strength?.as ?? 'ppm';
  const strength = (role: ColumnRole) => reading(role, PPM_LIMITS, { times: perUnit, digits: 1, sign: unit });
  const ph = (role: ColumnRole) => reading(role, PH_LIMITS, { digits: 2, sign: 'pH' });
  const figure = (role: ColumnRole, read: (text: string) => number | undefined): number | null => {
    const text = cell(role);
    if (isNothing(text)) return null;
    const found = read(text);
    if (found === undefined) say(role, noFigure(text, plan.mark));
    return found === undefined ? null : Number(found.toFixed(2));
  };
  const volume = (role: ColumnRole) => figure(role, (text) => mlIn(text, plan));
  const record = {
    pot: columnOf('pot') < 0 ? null : cell('pot'),
    outStrength: strength('outStrength'),
    outPh: ph('outPh'),
    inStrength: strength('inStrength'),
    inPh: ph('inPh'),
    leftMl: volume('left'),
    pouredMl: volume('poured'),
    flushedMl: volume('flushed'),
    temperatureC: figure('temperature', (text) => figureIn(plan.mark, text, '°C')),
    note: cell('note').slice(0, MOST_NOTE),
  };
  if (record.pot === '') say('pot', 'no pot is named');
  if (!when || problems.length > 0) return { ok: false, problems };
  return { ok: true, record: { when, ...record } };
}

/** A volume in the column’s unit, or with its own behind it. */
function mlIn(text: string, { mark, volume }: SheetPlan): number | undefined {
  const unit = volume ?? 'mL';
  const bare = figureIn(mark, text);
  if (bare !== undefined) return bare * ML_PER_UNIT[unit];
  if (!/[a-z½¼¾⅓⅔]/i.test(text)) return undefined;
  const read = parseVolume(
    text,
    unit,
    unit.startsWith('us') ? 'us' : unit.startsWith('imperial') ? 'imperial' : 'metric',
  );
  return read.kind === 'volume' ? read.ml : undefined;
}

type Say = (role: ColumnRole, message: string) => void;

function whenIn(text: string, time: string | null, form: DayForm, say: Say): Moment | undefined {
  const moment = momentIn(form, text);
  if (!moment) {
    say('day', text === '' ? 'no day' : `"${text}" is no day as the others are: ${FORM_EXAMPLES[form]}`);
    return undefined;
  }
  if ('instant' in moment || time === null || isNothing(time)) return moment;
  const minute = minuteIn(time);
  if (minute === undefined) say('time', `"${time}" is no time: write it as 18:30`);
  return { ...moment, minute };
}

const noFigure = (text: string, mark: DecimalMark) => `"${text}" is no figure with ${MARK_WORDS[mark]} for decimals`;

function inside(reading: Reading, { low, high }: { low: number; high: number }): boolean {
  const figures =
    reading.kind === 'value' ? [reading.value] : reading.kind === 'range' ? [reading.low, reading.high] : [];
  return figures.every((figure) => figure >= low && figure <= high);
}
