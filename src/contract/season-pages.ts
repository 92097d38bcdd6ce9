import { z } from 'zod';
import { id, localDate, potDrawing } from './common.ts';
import { learned } from './season.ts';

/* What the season’s other pages tell: the weeks gone by, the sitter’s sheet, the calendar, the year. */

const day = z.number().int();
const moved = z.array(z.object({ code: z.string(), days: day }));
/** The weeks gone by as planned and as done; a day without a plan is left out. Litres are of still water. */
export const lookBack = z.object({
  days: z.array(
    z.object({
      on: localDate,
      onDay: z.array(z.string()),
      sooner: moved,
      later: moved,
      notYet: z.array(z.string()),
      foretoldL: z.number().nullable(),
      drawnL: z.number(),
    }),
  ),
  learned,
});
export type LookBack = z.infer<typeof lookBack>;

const somePot = z.object({ id, code: z.string(), name: z.string(), ml: z.number() });
/** The sheet for whoever looks after the pots while nobody else is there. */
export const sitterSheet = z.object({
  collection: z.string(),
  fromDate: localDate,
  untilDate: localDate,
  /** What is poured: the still water's name, or plain water. */
  water: z.string(),
  before: z.array(somePot),
  visits: z.array(z.object({ on: localDate, minutes: z.number(), litres: z.number(), pots: z.array(somePot) })),
  places: z.array(
    z.object({
      name: z.string(),
      note: z.string(),
      pots: z.array(z.object({ id, code: z.string(), drawing: potDrawing })),
    }),
  ),
  lamps: z.boolean(),
  /** Who is looked at first on coming back, the least water left first. */
  back: z.array(z.object({ id, code: z.string(), share: z.number() })),
  /** Codes of pots of which nobody ever noted what was left: what they drink is only thought. */
  guessed: z.array(z.string()),
});
export type SitterSheet = z.infer<typeof sitterSheet>;

/** The address a calendar subscribes to: its secret is shown once. Null where none was made. */
export const calendarKey = z.object({ made: z.boolean() });
export const calendarMade = z.object({ path: z.string(), repeated: z.boolean() });

const monthly = z.array(z.number());
/** Twelve months, three of them gone by. */
export const yearView = z.object({
  on: localDate,
  /** Each as `yyyy-mm`; `now` is the number of this month. */
  months: z.array(z.string()),
  now: z.number().int(),
  rows: z.array(
    z.object({
      place: z.string(),
      what: z.string(),
      /** What it is due in: months of a soak's season, of a pen's check; null where nothing says. */
      due: z.array(z.boolean()).nullable(),
      /** How often it was done. */
      done: monthly,
    }),
  ),
  /** How strong each regimen pours by stage, and how many pots are at it now; ppm over base on the grower's scale, or in words. */
  strengths: z.array(
    z.object({
      place: z.string(),
      regimen: z.string(),
      byStage: z.array(
        z.object({
          stage: z.enum(['growth', 'rooting', 'rest', 'spike', 'bloom']),
          words: z.string(),
          pots: z.number().int(),
        }),
      ),
    }),
  ),
  /** What wears in making still water. */
  parts: z.array(z.object({ id, name: z.string(), everyDays: z.number().int(), dueOn: localDate })),
  /** Still water a month from this one on, L: waterings with their flushes, soaks, and what is made, null where nobody said; 0 for months gone by. Null where there is none. */
  still: z
    .object({ waterings: monthly, soaks: monthly, made: monthly.nullable(), costPerL: z.number().nullable() })
    .nullable(),
  /** Bottles in use, what runs out first standing first. */
  bottles: z.array(
    z.object({
      name: z.string(),
      leftMl: z.number().nullable(),
      perMonthMl: z.number(),
      /** The day it is empty at the rate of the last weeks; null where nobody can know. */
      emptyOn: localDate.nullable(),
      costPerMonth: z.number().nullable(),
    }),
  ),
});
export type YearView = z.infer<typeof yearView>;
