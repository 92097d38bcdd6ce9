import { isValid, parse as parseDate } from 'date-fns';
import Papa from 'papaparse';
import { HABIT_WORDS, HABITS, MEDIA, MEDIUM_WORDS, SENSITIVITIES, STAGES } from '../../contract/kinds.ts';
import { MOST_POTS_AT_ONCE, potValues, volumesProblem, type PotValues } from '../../contract/pots.ts';
import { parseVolume, SMALL_UNIT, type VolumeUnits } from '../../core/quantity/index.ts';
import { nextCode } from './pot-texts.ts';

/** What a column of a pasted list can be. */
export const COLUMNS = {
  skip: 'leave it out',
  code: 'code',
  plant: 'plant',
  name: 'name of its own',
  place: 'place',
  spot: 'where on it',
  reservoirMl: 'reservoir',
  fillMl: 'fill limit',
  brimMl: 'to the brim',
  medium: 'medium',
  stage: 'stage',
  regimen: 'regimen',
  clay: 'clay batch',
  clayL: 'clay, L',
  heightCm: 'height, cm',
  habit: 'growth habit',
  sensitivity: 'sensitivity',
  origin: 'where from',
  acquiredOn: 'here since',
  repottedOn: 'repotted',
  note: 'note',
} as const;
export type Column = keyof typeof COLUMNS;

/** Words people head their columns with. */
const HEADS: [Column, RegExp][] = [
  ['code', /^(code|nr|no\.?|number|id|tag|label|pot( no\.?)?)$/],
  ['name', /^(name of its own|nickname|own name)$/],
  ['plant', /^(plant|plants|species|genus|what|name|kind)$/],
  ['place', /^(place|location|room|where|shelf|window)$/],
  ['spot', /^(spot|position|where on it)$/],
  ['reservoirMl', /^(reservoir|res|volume|water)\b/],
  ['fillMl', /^fill/],
  ['brimMl', /brim/],
  ['medium', /^(medium|substrate|in)$/],
  ['stage', /^(stage|state|phase)$/],
  ['regimen', /^(regimen|feed|feeding|schedule)$/],
  ['clay', /^(clay|clay batch|batch)$/],
  ['clayL', /^clay.*\bl(itres)?$/],
  ['heightCm', /^height/],
  ['habit', /^(habit|growth( habit)?)$/],
  ['sensitivity', /^(sensitivity|sensitive)$/],
  ['origin', /^(origin|from|where from|source)$/],
  ['acquiredOn', /^(acquired|since|here since|bought|got)( on)?$/],
  ['repottedOn', /^repotted( on)?$/],
  ['note', /^(note|notes|remark|remarks|comment|comments)$/],
];

export type Pasted = {
  readonly head: readonly string[] | null;
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[];
  readonly width: number;
};

/** Splits what was pasted (tabs from a spreadsheet, commas or semicolons) into rows; a first row of column names is told apart. */
export function readPasted(text: string): Pasted {
  const result = Papa.parse<string[]>(text.replace(/\u00a0/g, ' '), {
    skipEmptyLines: false,
    delimitersToGuess: ['\t', ';', ',', '|'],
  });
  const lines = result.data
    .map((cells, i) => ({ line: i + 1, cells: cells.map((cell) => cell.trim()) }))
    .filter(({ cells }) => cells.some((cell) => cell !== ''));
  const first = lines[0];
  const isHead =
    first !== undefined &&
    first.cells.filter((cell) => columnOf(cell) !== undefined).length >=
      Math.max(1, Math.ceil(first.cells.filter(Boolean).length / 2));
  const rows = isHead ? lines.slice(1) : lines;
  return { head: isHead ? first.cells : null, rows, width: Math.max(0, ...lines.map(({ cells }) => cells.length)) };
}

function columnOf(head: string): Column | undefined {
  const plain = head
    .toLowerCase()
    .replace(/[,(].*$/, (rest) => (/\bl\b/.test(rest) ? ' l' : ''))
    .trim();
  return HEADS.find(([, pattern]) => pattern.test(plain))?.[0];
}

/** A first guess of what each column is: by its name, or, without names, by what stands in it. Each kind is used once. */
export function guessColumns(pasted: Pasted, places: readonly string[]): Column[] {
  const used = new Set<Column>();
  const take = (column: Column | undefined): Column => {
    if (column === undefined || used.has(column)) return 'skip';
    used.add(column);
    return column;
  };
  if (pasted.head) return Array.from({ length: pasted.width }, (_, i) => take(columnOf(pasted.head?.[i] ?? '')));
  return Array.from({ length: pasted.width }, (_, i) => {
    const cells = pasted.rows.map((row) => row.cells[i] ?? '').filter(Boolean);
    const most = (test: (cell: string) => boolean) => cells.length > 0 && cells.filter(test).length > cells.length / 2;
    if (most((c) => /^[a-z]{0,4}[-. ]?\d{1,4}$/i.test(c)) && new Set(cells).size === cells.length && i === 0)
      return take('code');
    if (most((c) => (STAGES as readonly string[]).includes(c.toLowerCase()))) return take('stage');
    if (most((c) => places.some((p) => p.toLowerCase() === c.toLowerCase()))) return take('place');
    if (most((c) => parseVolume(c, 'mL', 'metric').kind === 'volume')) return take('reservoirMl');
    if (most((c) => /[a-z]/i.test(c)))
      return take(used.has('plant') ? (used.has('place') ? undefined : 'place') : 'plant');
    return 'skip';
  });
}

export type ListContext = {
  readonly places: readonly { readonly id: string; readonly name: string }[];
  readonly regimens: readonly { readonly id: string; readonly name: string }[];
  readonly codes: readonly string[];
  readonly units: VolumeUnits;
  /** Taken where the list says nothing. */
  readonly usual: { readonly place: string; readonly reservoir: string; readonly regimenId: string };
};
export type ListLine = {
  readonly line: number;
  /** The pot, its place by name; undefined where something is wrong. */
  readonly pot:
    { readonly values: Omit<PotValues, 'placeId'>; readonly place: string; readonly regimenId: string } | undefined;
  readonly problems: readonly string[];
  readonly shown: { readonly code: string; readonly plant: string; readonly place: string };
};

/** Every line as a pot, or what is wrong with it. Codes must be one pot's each, here and in the collection. */
export function toLines(pasted: Pasted, columns: readonly Column[], context: ListContext): ListLine[] {
  const taken = new Map(context.codes.map((code) => [code.toLowerCase(), 0]));
  const made: string[] = [];
  return pasted.rows.map(({ line, cells }) => {
    const at = (column: Column) => {
      const i = columns.indexOf(column);
      return i < 0 ? '' : (cells[i] ?? '');
    };
    const problems: string[] = [];
    const place = at('place') || context.usual.place;
    const code = at('code') || (columns.includes('code') ? '' : codeFor(place, [...context.codes, ...made]));
    if (code) made.push(code);
    takeCode(code, line, taken, problems);
    if (!place) problems.push('no place: choose the usual place below, or a column for it');
    const values = valuesOf(at, code, context, problems);
    const regimenId = regimenOf(at('regimen'), context, problems);
    const checked = checkedValues(values, problems);
    return {
      line,
      pot: checked && problems.length === 0 ? { values: checked, place, regimenId } : undefined,
      problems,
      shown: { code, plant: at('plant'), place },
    };
  });
}

/** Codes must be one pot's each. */
function takeCode(code: string, line: number, taken: Map<string, number>, problems: string[]): void {
  if (!code) return;
  const before = taken.get(code.toLowerCase());
  if (before === undefined) taken.set(code.toLowerCase(), line);
  else
    problems.push(
      before === 0 ? `${code} is a pot in your collection already` : `${code} stands in line ${before} too`,
    );
}

/** The cells of a line as a pot's values, with what could not be read among the problems. */
function valuesOf(at: (column: Column) => string, code: string, context: ListContext, problems: string[]) {
  const reservoir = at('reservoirMl') || context.usual.reservoir;
  // A fill limit that is not given is the reservoir, whose own trouble is said once.
  const fill = at('fillMl');
  return {
    code,
    plant: at('plant'),
    name: at('name'),
    spot: at('spot'),
    medium: pick(at('medium'), MEDIA, MEDIUM_WORDS, 'clay', 'medium', problems),
    stage: pick(at('stage'), STAGES, {}, 'growth', 'stage', problems),
    clay: at('clay') || null,
    clayL: number(at('clayL'), 'litres of clay', problems),
    reservoirMl: volume(reservoir, context, 'reservoir', problems),
    fillMl: volume(fill || reservoir, context, 'fill limit', fill ? problems : []),
    brimMl: at('brimMl') ? volume(at('brimMl'), context, 'brim', problems) : null,
    heightCm: number(at('heightCm'), 'height', problems),
    habit: at('habit') ? pick(at('habit'), HABITS, HABIT_WORDS, null, 'habit', problems) : null,
    sensitivity: pick(at('sensitivity'), SENSITIVITIES, {}, 'usual', 'sensitivity', problems),
    origin: at('origin'),
    acquiredOn: date(at('acquiredOn'), 'here since', problems),
    repottedOn: date(at('repottedOn'), 'repotted', problems),
    note: at('note'),
  };
}

/** The regimen a line names, or the usual one. */
function regimenOf(name: string, { regimens, usual }: ListContext, problems: string[]): string {
  if (!name) return usual.regimenId;
  const regimen = regimens.find((r) => r.name.toLowerCase() === name.toLowerCase());
  if (!regimen) problems.push(`there is no regimen called ${name}`);
  return regimen?.id ?? usual.regimenId;
}

/** The values where they make a pot; what is wrong with them is added, unless something is wrong already. */
function checkedValues(values: unknown, problems: string[]): Omit<PotValues, 'placeId'> | undefined {
  const parsed = potValues.omit({ placeId: true }).safeParse(values);
  if (!parsed.success) {
    if (problems.length === 0) problems.push(...parsed.error.issues.map((issue) => issue.message.replace(/\.$/, '')));
    return undefined;
  }
  const off = volumesProblem(parsed.data);
  if (off) problems.push(off.message.replace(/\.$/, ''));
  return parsed.data;
}

/** Too many lines for one list, in words; or undefined. */
export function tooMany(pasted: Pasted): string | undefined {
  if (pasted.rows.length <= MOST_POTS_AT_ONCE) return undefined;
  return `${pasted.rows.length.toLocaleString('en-GB')} lines are more than one list can bring (${MOST_POTS_AT_ONCE.toLocaleString('en-GB')}). Paste it in parts.`;
}

/** A code where the list has none: the place's first letter and the next number. */
function codeFor(place: string, codes: readonly string[]): string {
  const stem = `${(place[0] ?? 'A').toUpperCase()}-`;
  const mine = codes
    .filter((code) => new RegExp(`^${stem}\\d+$`, 'i').test(code))
    .sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
  return mine.length > 0 ? nextCode(mine) : `${stem}01`;
}

function pick<T extends string, N extends T | null>(
  text: string,
  codes: readonly T[],
  words: Partial<Record<T, string>>,
  usual: N,
  what: string,
  problems: string[],
): T | N {
  const plain = text.trim().toLowerCase();
  if (plain === '') return usual;
  const found =
    codes.find((code) => code === plain || words[code] === plain) ??
    codes.find((code) => plain.startsWith(code) || code.startsWith(plain));
  if (found === undefined)
    problems.push(`"${text}" is no ${what}: ${codes.map((code) => words[code] ?? code).join(', ')}`);
  return found ?? usual;
}

function volume(text: string, context: ListContext, what: string, problems: string[]): number {
  const read = parseVolume(text, SMALL_UNIT[context.units].unit, context.units);
  if (read.kind === 'volume') return read.ml;
  problems.push(
    read.kind === 'empty'
      ? `no ${what}: give the usual one below, or a column for it`
      : `"${text}" is no ${what}: write it as 250 mL or 8 fl oz`,
  );
  return NaN;
}

function number(text: string, what: string, problems: string[]): number | null {
  if (text === '') return null;
  const value = Number(text.replace(',', '.').replace(/\s*(cm|l)$/i, ''));
  if (Number.isFinite(value)) return value;
  problems.push(`"${text}" is no ${what}`);
  return null;
}

const DATES = [
  'yyyy-MM-dd',
  'd/M/yyyy',
  'd.M.yyyy',
  'd-M-yyyy',
  'd MMM yyyy',
  'd MMMM yyyy',
  'MMM yyyy',
  'MMMM yyyy',
  'yyyy',
];
/** A day as people write it, the day before the month; a month or a year alone is its first day. */
function date(text: string, what: string, problems: string[]): string | null {
  if (text === '') return null;
  for (const format of DATES) {
    const day = parseDate(text, format, new Date(2000, 0, 1));
    if (isValid(day) && day.getFullYear() > 1900 && day.getFullYear() < 2200)
      return `${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, '0')}-${String(day.getDate()).padStart(2, '0')}`;
  }
  problems.push(`"${text}" is no day for ${what}: write it as 2026-11-25 or 25/11/2026`);
  return null;
}
