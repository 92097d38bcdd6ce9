import Papa from 'papaparse';
import { MOST_COLUMNS, type SheetPlanWire } from '../../../contract/sheet.ts';
import { decodedText } from '../../../contract/sheet-text.ts';
import type { ShelfRoom } from '../../../contract/shelf.ts';
import type { VolumeUnit } from '../../../core/quantity/index.ts';
import {
  dayFormsOf,
  decimalMarkOf,
  guessRoles,
  isHeading,
  strengthUnitIn,
  type ColumnRole,
  type DayForm,
  type StrengthUnit,
} from '../../../core/records/index.ts';
import type { PotNamed } from './sheet-words.ts';

/** The beginning of a table, as far as it takes to say what its columns are. */
export type Sample = {
  readonly separator: SheetPlanWire['separator'];
  readonly head: readonly string[] | null;
  readonly lines: readonly (readonly string[])[];
  readonly width: number;
};
/** How a table is to be read, as it is chosen; empty where it is still to be said. */
export type SheetDraft = Omit<SheetPlanWire, 'dayForm' | 'strength' | 'volume'> & {
  readonly dayForm: DayForm | '';
  readonly strength: string;
  readonly volume: VolumeUnit | '';
  readonly waterPpm: string;
  readonly aboutPpm: string;
  readonly aboutPhText: string;
};

/** Read of a file before it is sent: enough for some thousand lines. */
export const SAMPLE_BYTES = 256 * 1024;
const LINES = 2000;
const SEPARATORS: Readonly<Record<string, SheetPlanWire['separator']>> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'bar',
};

export function sampleOf(bytes: Uint8Array, cut: boolean): Sample {
  const text = decodedText(bytes, cut);
  const { data, meta } = Papa.parse<string[]>(text, {
    preview: LINES,
    delimitersToGuess: ['\t', ';', ',', '|'],
    skipEmptyLines: 'greedy',
  });
  const lines = data.map((cells) => cells.slice(0, MOST_COLUMNS).map((cell) => cell.trim()));
  const first = lines[0] ?? [];
  const head = isHeading(first) ? first : null;
  return {
    separator: SEPARATORS[meta.delimiter] ?? 'comma',
    head,
    lines: head ? lines.slice(1) : lines,
    width: lines.reduce((most, cells) => Math.max(most, cells.length), 1),
  };
}

const UNITS: readonly (readonly [RegExp, VolumeUnit])[] = [
  [/\bml\b/i, 'mL'],
  [/\bfl\.? ?oz\b/i, 'usFluidOunce'],
  [/\b(?:l|litres?|liters?)\b/i, 'L'],
];
const STRENGTHS: readonly ColumnRole[] = ['outStrength', 'inStrength'];
const VOLUMES: readonly ColumnRole[] = ['poured', 'flushed', 'left'];
const FIGURES: readonly ColumnRole[] = [...STRENGTHS, ...VOLUMES, 'outPh', 'inPh', 'temperature'];
export const strengthText = (unit: StrengthUnit): string => (unit.as === 'ppm' ? String(unit.scale) : unit.as);
export const strengthOf = (text: string): StrengthUnit | null =>
  text === '' ? null : text === 'µS/cm' || text === 'mS/cm' ? { as: text } : { as: 'ppm', scale: Number(text) };

/** A first guess of how a table is to be read: by its headings, its figures, and what is on the Shelf. What nothing tells stays to be said. */
export function draftOf(sample: Sample, room: ShelfRoom, pots: readonly PotNamed[]): SheetDraft {
  const columns = withPot(
    sample.head ? guessRoles(widened(sample.head, sample.width)) : guessColumns(sample),
    sample,
    pots,
  );
  const cellsOf = (roles: readonly ColumnRole[]) =>
    columns.flatMap((role, i) => (roles.includes(role) ? sample.lines.map((cells) => cells[i] ?? '') : []));
  const headsOf = (roles: readonly ColumnRole[]) =>
    columns.flatMap((role, i) => (roles.includes(role) ? [sample.head?.[i] ?? ''] : []));
  const forms = dayFormsOf(cellsOf(['day']).slice(0, 400));
  const unit = headsOf(STRENGTHS).map(strengthUnitIn).find(Boolean);
  const only = <T extends { readonly id: string; readonly retiredOn: string | null }>(things: readonly T[]) =>
    things.filter(({ retiredOn }) => retiredOn === null);
  const feeds = only(room.products).filter(({ values }) => values.kind === 'feed');
  const still = only(room.waters).find(({ values }) => values.kind === 'still');
  const tap = only(room.waters).find(({ values }) => values.kind === 'tap');
  const logger = !columns.includes('pot') && columns.includes('day');
  return {
    what: logger ? 'readings' : 'waterings',
    separator: sample.separator,
    head: sample.head !== null,
    columns,
    dayForm: forms.length === 1 ? forms[0]! : '',
    mark: decimalMarkOf(cellsOf(FIGURES)),
    strength: unit === undefined || unit === 'ppm' ? '' : strengthText(unit),
    volume: headsOf(VOLUMES).flatMap((head) => UNITS.find(([is]) => is.test(head))?.[1] ?? [])[0] ?? '',
    potId: null,
    pots: {},
    ppmMeterId: room.mainPpmMeterId,
    phMeterId: room.mainPhMeterId,
    waterId: still?.id ?? null,
    waterPpm: '',
    waterEcUsCm: null,
    ...{ aboutPpm: '', aboutPhText: '', aboutEcUsCm: null, aboutPh: null },
    productId: feeds.length === 1 ? feeds[0]!.id : null,
    flushWaterId: (tap ?? still)?.id ?? null,
    usualPour: !columns.includes('poured'),
    lastOfDay: logger,
    mended: {},
  };
}

const widened = (head: readonly string[], width: number) => Array.from({ length: width }, (_, i) => head[i] ?? '');

/** A column that names pots of this collection is their names, whatever stands over it. */
function withPot(columns: ColumnRole[], { lines }: Sample, pots: readonly PotNamed[]): ColumnRole[] {
  if (columns.includes('pot')) return columns;
  const names = new Set(pots.flatMap(({ code, name, plant }) => [code, name, plant].map((n) => n.toLowerCase())));
  const some = lines.slice(0, 100);
  const named = columns.findIndex((role, i) => {
    const cells = some.map((cells) => (cells[i] ?? '').toLowerCase()).filter(Boolean);
    return role !== 'day' && 2 * cells.filter((cell) => names.has(cell)).length > cells.length;
  });
  return columns.map((role, i) => (i === named ? 'pot' : role));
}

/** Without headings only the day can be told. */
function guessColumns({ lines, width }: Sample): ColumnRole[] {
  const some = lines.slice(0, 100);
  const day = Array.from({ length: width }, (_, i) => i).find((i) => {
    const cells = some.map((cells) => cells[i] ?? '').filter(Boolean);
    return cells.length > 0 && cells.every((cell) => /\D/.test(cell)) && dayFormsOf(cells).length > 0;
  });
  return Array.from({ length: width }, (_, i) => (i === day ? 'day' : 'skip'));
}

/** A figure as typed: null where none is; what is no figure stays as it was typed, for the server to say so. */
const typed = (text: string, over = 1): number | string | null => {
  if (text.trim() === '') return null;
  const figure = Number(text.trim().replace(',', '.'));
  return Number.isFinite(figure) ? figure / over : text;
};
/** No column tells what was poured. */
export const isRemembered = ({ what, columns }: Pick<SheetDraft, 'what' | 'columns'>): boolean =>
  what === 'waterings' && !columns.includes('inStrength');

/** What is sent: as it was chosen, with what is remembered on the pen’s scale. What was not said is for the server to ask for. */
export function planOf(
  { waterPpm, aboutPpm, aboutPhText, dayForm, strength, volume, ...draft }: SheetDraft,
  penScale: number,
): object {
  const has = (roles: readonly ColumnRole[]) => draft.columns.some((role) => roles.includes(role));
  const about = isRemembered(draft)
    ? { aboutEcUsCm: typed(aboutPpm, penScale), aboutPh: has(['inPh']) ? null : typed(aboutPhText) }
    : {};
  const told = has(['inStrength', 'inPh']) || Object.values(about).some((figure) => figure !== null);
  return {
    ...draft,
    ...about,
    dayForm,
    strength: has(STRENGTHS) ? strengthOf(strength) : null,
    volume: has(VOLUMES) ? volume || null : null,
    waterId: told ? draft.waterId : null,
    productId: told ? draft.productId : null,
    flushWaterId: has(['flushed']) ? draft.flushWaterId : null,
    waterEcUsCm: told ? typed(waterPpm, penScale) : null,
  };
}
