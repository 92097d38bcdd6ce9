import { z } from 'zod';
import { COLUMN_ROLES, DAY_FORMS, DECIMAL_MARKS } from '../core/records/index.ts';
import { ML_PER_UNIT, type VolumeUnit } from '../core/quantity/index.ts';
import { id, localDate } from './common.ts';

/* Old records out of somebody's spreadsheet, or a logger's file: how its columns are to be read, and what would come of it. */

/** A watering a line: what stood in the pot, then what it was filled with. A reading a line: the reservoir where it stands. */
export const SHEET_KINDS = ['waterings', 'readings'] as const;
export const SHEET_SEPARATORS = ['comma', 'semicolon', 'tab', 'bar'] as const;
export const MOST_COLUMNS = 200;
/** A hundred thousand lines are some 8 MB. */
export const MOST_SHEET_BYTES = 200 * 1024 * 1024;

type Columns = { readonly what: string; readonly columns: readonly string[] };
type Said = Columns &
  Readonly<
    Record<
      'strength' | 'volume' | 'potId' | 'ppmMeterId' | 'waterId' | 'flushWaterId' | 'aboutEcUsCm' | 'aboutPh',
      unknown
    >
  >;
const STRENGTHS = ['outStrength', 'inStrength'];
/** What has to be said before a table can be read, by its columns. */
const MUST_BE_SAID: readonly {
  readonly path: string;
  readonly words: string;
  readonly lacks: (plan: Said, has: (roles: readonly string[]) => boolean) => boolean;
}[] = [
  { path: 'columns', words: 'Say which column is the day.', lacks: (_, has) => !has(['day']) },
  {
    path: 'columns',
    words: 'Two columns are the same thing: leave one of them out.',
    lacks: ({ columns }) => columns.some((role, i) => role !== 'skip' && columns.indexOf(role) !== i),
  },
  {
    path: 'columns',
    words: 'Say which column is the reading.',
    lacks: ({ what }, has) => what === 'readings' && !has(['outStrength', 'outPh', 'left']),
  },
  {
    path: 'potId',
    words: 'No column names the pot: say which one it is.',
    lacks: ({ potId }, has) => !has(['pot']) && potId === null,
  },
  {
    path: 'strength',
    words: 'Say in which unit strengths stand.',
    lacks: ({ strength }, has) => has(STRENGTHS) && strength === null,
  },
  {
    path: 'ppmMeterId',
    words: 'Say which pen strengths are kept under. Put one on the Shelf first, or leave those columns out.',
    lacks: ({ ppmMeterId }, has) => has(STRENGTHS) && ppmMeterId === null,
  },
  {
    path: 'volume',
    words: 'Say in which unit volumes stand.',
    lacks: ({ volume }, has) => has(['poured', 'flushed', 'left']) && volume === null,
  },
  {
    path: 'waterId',
    words: 'Say which water that was.',
    lacks: ({ waterId, aboutEcUsCm, aboutPh }, has) =>
      (has(['inStrength', 'inPh']) || aboutEcUsCm !== null || aboutPh !== null) && waterId === null,
  },
  {
    path: 'flushWaterId',
    words: 'Say which water it was flushed with.',
    lacks: ({ flushWaterId }, has) => has(['flushed']) && flushWaterId === null,
  },
];

export const sheetPlan = z
  .object({
    what: z.enum(SHEET_KINDS),
    separator: z.enum(SHEET_SEPARATORS),
    /** The first line names the columns. */
    head: z.boolean(),
    columns: z.array(z.enum(COLUMN_ROLES)).min(1).max(MOST_COLUMNS),
    dayForm: z.enum(DAY_FORMS, 'Say how the days are written.'),
    mark: z.enum(DECIMAL_MARKS),
    strength: z
      .union([
        z.object({ as: z.literal('ppm'), scale: z.number().min(0.3).max(1) }),
        z.object({ as: z.enum(['µS/cm', 'mS/cm']) }),
      ])
      .nullable(),
    volume: z.enum(Object.keys(ML_PER_UNIT) as [VolumeUnit, ...VolumeUnit[]]).nullable(),
    /** The pot of every line, where no column names it. */
    potId: id.nullable(),
    /** What a pot is called in the table, in small letters, and which it is here; null: its lines are left out. */
    pots: z.record(z.string().max(200), id.nullable()),
    ppmMeterId: id.nullable(),
    phMeterId: id.nullable(),
    /** What the mixes were made of; what that water read then, µS/cm, where it is remembered. */
    waterId: id.nullable(),
    waterEcUsCm: z.number('Give ppm, such as 10, or leave it empty.').min(0).max(20000).nullable(),
    productId: id.nullable(),
    /** What was poured, as far as it is remembered, where no column tells it: µS/cm, pH. */
    aboutEcUsCm: z.number('Give ppm, such as 105, or leave it empty.').min(0).max(20000).nullable(),
    aboutPh: z
      .number('Give a pH, such as 5.8, or leave it empty.')
      .min(3, 'Between pH 3 and 10.')
      .max(10, 'Between pH 3 and 10.')
      .nullable(),
    flushWaterId: id.nullable(),
    /** Where no column tells how much was poured: as much as the pot is filled with today, or the line is left out. */
    usualPour: z.boolean(),
    /** Of many readings of one pot on one day, the last. */
    lastOfDay: z.boolean(),
    /** Lines put right by hand: the number of the line, and its cells as they should be. */
    mended: z.record(z.string().regex(/^\d+$/), z.array(z.string().max(2000)).max(MOST_COLUMNS)),
  })
  .superRefine((plan, context) => {
    const has = (roles: readonly string[]) => plan.columns.some((role) => roles.includes(role));
    for (const { path, lacks, words } of MUST_BE_SAID)
      if (lacks(plan, has)) context.addIssue({ code: 'custom', path: [path], message: words });
  });
export type SheetPlanWire = z.infer<typeof sheetPlan>;

/** A line that cannot be read, as it stands there, with what is wrong at which column (0 the first; null for the line). */
export const sheetLine = z.object({
  line: z.number().int(),
  cells: z.array(z.string()),
  problems: z.array(z.object({ column: z.number().int().nullable(), message: z.string() })),
});
export const sheetReport = z.object({
  waterings: z.number().int(),
  readings: z.number().int(),
  notes: z.number().int(),
  pots: z.number().int(),
  from: localDate.nullable(),
  to: localDate.nullable(),
  /** Here already, of that pot and day: not doubled. */
  here: z.number().int(),
  /** Other readings of a day of which only the last is taken. */
  passedBy: z.number().int(),
  /** Of pots that were said to be left out. */
  leftOut: z.number().int(),
  wrong: z.number().int(),
  /** The first of them. */
  wrongLines: z.array(sheetLine),
  /** Names of pots that are none here, with how many lines each has. */
  strangers: z.array(z.object({ name: z.string(), lines: z.number().int() })),
});
export type SheetReport = z.infer<typeof sheetReport>;

export const sheetState = z.object({
  id: z.uuid(),
  name: z.string(),
  /** `sent`: here, and not yet told how to read it. */
  state: z.enum(['sent', 'reading', 'ready', 'refused', 'stopped', 'kept']),
  done: z.number().min(0).max(1),
  report: sheetReport.nullable(),
  words: z.string().nullable(),
  backup: z.string().nullable(),
  /** The act that brought it, once it is kept: it can be taken back. */
  actId: z.uuid(),
});
export type SheetState = z.infer<typeof sheetState>;
