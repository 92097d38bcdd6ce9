import { ENTITIES } from '../entities.ts';

/*
 * Which tables go out, and their columns: from the tables’ own descriptions, so that one that is added goes out too.
 */

type Column = {
  readonly name: string;
  readonly type: 'text' | 'integer' | 'real';
  readonly nullable: boolean;
  readonly json: boolean;
};
export type WholeTable = {
  readonly name: string;
  readonly columns: readonly Column[];
  readonly keys: readonly string[];
};

/**
 * The log and the photos have their own parts; the rest is no record: numbers of requests, what is found again from the log, what a demo's pens truly read. Keys of
 * pens that send are access, which no file brings with it.
 */
const APART: ReadonlySet<string> = new Set([
  'care_event',
  'photo',
  'act_request',
  'event_touch',
  'simulated_truth',
  'instrument',
  'sent_reading',
]);
/** Kept to save work: made again where it is missing. */
const CACHES: Readonly<Record<string, ReadonlySet<string>>> = { batch_part: new Set(['knownAfter']) };
/** Settings that are about this file and not about the collection. */
export const OWN_SETTINGS: ReadonlySet<string> = new Set(['demoDay']);

/** Tables in the order in which they can be filled. */
export const WHOLE_TABLES: readonly WholeTable[] = ENTITIES.filter(({ options }) => !APART.has(options.name)).map(
  ({ options }) => {
    const checks = (options.checks ?? []).map((check) => check.expression);
    const columns = Object.entries(options.columns).flatMap(([name, column]): Column[] =>
      !column || CACHES[options.name]?.has(name)
        ? []
        : [
            {
              name,
              type: column.type === 'text' || column.type === 'integer' ? column.type : 'real',
              nullable: column.nullable === true,
              json: checks.some((expression) => expression.includes(`json_valid("${name}")`)),
            },
          ],
    );
    const keys = Object.entries(options.columns).flatMap(([name, column]) => (column?.primary ? [name] : []));
    return { name: options.name, columns, keys };
  },
);
