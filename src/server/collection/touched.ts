import { DRAWS } from './tanks.ts';
import type { Collection } from './collection.ts';
import { listed, type Rows } from './rows.ts';
import { broughtBy } from '../database/brought.ts';

/** What lines of the log touch. */
export type Touched = {
  readonly pots: ReadonlySet<string>;
  readonly batches: ReadonlySet<string>;
  readonly products: ReadonlySet<string>;
  /** Waters, each with the moment of the earliest reading that came, went or was put right. */
  readonly waters: ReadonlyMap<string, string>;
  /** Waters whose tank was looked into, and days on which something was drawn from any. */
  readonly counted: ReadonlySet<string>;
  readonly drawnOn: ReadonlySet<string>;
  readonly tables: ReadonlySet<string>;
};

type Line = {
  id: string;
  kind: string;
  at: string;
  localDate: string;
  potId: string | null;
  batchId: string | null;
  payload: string;
  corrects: string | null;
};
type Payload = {
  targetId?: string;
  waterId?: string | null;
  keepAs?: string | null;
  changes?: readonly Change[];
};
type Change = { table: string; id: string; before: object | null; after: object };

type Touching = {
  -readonly [K in keyof Touched]: Touched[K] extends ReadonlyMap<infer A, infer B> ? Map<A, B> : Set<string>;
};

/** What the lines after a collection's last one touch: they themselves, what they take back, and what they put right. */
export function touchedBy(rows: Rows, { seq, batches: known }: Pick<Collection, 'seq' | 'batches'>): Touched {
  const touched: Touching = {
    pots: new Set(),
    batches: new Set(),
    products: new Set(),
    waters: new Map(),
    counted: new Set(),
    drawnOn: new Set(),
    tables: new Set(),
  };
  const waterOf = (batchId: string) =>
    known.get(batchId)?.row.waterId ??
    rows<{ waterId: string }>('SELECT waterId FROM main.batch WHERE id = ?', batchId)[0]?.waterId;
  for (const line of withNamed(rows, rows<Line>('SELECT * FROM main.care_event WHERE seq > ?', seq))) {
    const payload = JSON.parse(line.payload) as Payload;
    touchByLine(touched, line, payload, waterOf);
    if (line.kind === 'linesBrought') touchByBrought(touched, line.id, rows);
    for (const change of payload.changes ?? []) touchByRecord(touched, change, rows);
  }
  return touched;
}

/** A water is read anew from the earliest of its readings that changed. */
function touchWater({ waters }: Touching, id: string, at: string): void {
  waters.set(id, [waters.get(id) ?? at, at].sort()[0]!);
}

function touchByLine(
  touched: Touching,
  line: Line,
  { waterId, keepAs }: Payload,
  waterOf: (batchId: string) => string | undefined,
): void {
  if (line.potId) touched.pots.add(line.potId);
  if (line.batchId) touched.batches.add(line.batchId);
  if (keepAs) touched.batches.add(keepAs);
  if (line.kind === 'waterRead' && waterId) touchWater(touched, waterId, line.at);
  if (line.kind === 'waterCounted' && waterId) touched.counted.add(waterId);
  const based = line.kind === 'batchBase' && line.batchId ? waterOf(line.batchId) : undefined;
  if (based) touchWater(touched, based, line.at);
  if (line.kind === 'meterChecked' || line.kind === 'meterMarkedOff') touched.tables.add('meter');
  if (DRAWS.includes(line.kind)) touched.drawnOn.add(line.localDate);
}

/** Of many lines taken back at once, or put back: what they are about, not each of them. */
function touchByBrought({ pots, drawnOn }: Touching, id: string, rows: Rows): void {
  const of = <T>(column: string) =>
    rows<T>(
      `SELECT DISTINCT e.${column} AS of FROM event_touch t CROSS JOIN main.care_event e ON e.id = t.eventId WHERE t.subject = ?`,
      broughtBy(id),
    );
  for (const { of: pot } of of<{ of: string | null }>('potId')) if (pot) pots.add(pot);
  for (const { of: day } of of<{ of: string }>('localDate')) drawnOn.add(day);
}

/** Past every reading: what was read of it stands. */
const NO_READING = '9999';

function touchByRecord(touched: Touching, { table, id, after }: Change, rows: Rows): void {
  touched.tables.add(table);
  if (table === 'pot' || table === 'pot_plan') touched.pots.add(id);
  else if (table === 'product') touched.products.add(id);
  else if (table === 'water') touchWater(touched, id, NO_READING);
  // What a pot follows and what is planned for it is the pot's: named where the record was added, and by the record itself where it was changed.
  const about = after as { potId?: unknown; subjectId?: unknown };
  for (const potId of [about.potId, about.subjectId]) if (typeof potId === 'string') touched.pots.add(potId);
  const named = POT_OF_RECORD[table];
  if (named) for (const { potId } of rows<{ potId: string | null }>(named, id)) if (potId) touched.pots.add(potId);
}
const POT_OF_RECORD: Readonly<Record<string, string>> = {
  pot_regimen: 'SELECT potId FROM pot_regimen WHERE id = ?',
  planned_act: 'SELECT subjectId AS potId FROM planned_act WHERE id = ?',
};

/** Lines with those they take back or put right, and so on. */
function withNamed(rows: Rows, lines: readonly Line[]): Line[] {
  const all = new Map(lines.map((line) => [line.id, line]));
  let named = lines;
  while (named.length > 0) {
    const ids = named.flatMap((line) => [
      ...(line.kind === 'undone' ? [(JSON.parse(line.payload) as Payload).targetId!] : []),
      ...(line.corrects ? [line.corrects] : []),
    ]);
    named = rows<Line>(
      'SELECT * FROM main.care_event WHERE id IN (SELECT value FROM json_each(?))',
      listed(ids),
    ).filter(({ id }) => !all.has(id));
    for (const line of named) all.set(line.id, line);
  }
  return [...all.values()];
}
