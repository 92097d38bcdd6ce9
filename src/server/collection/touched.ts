import { DRAWS } from './tanks.ts';
import type { Collection } from './collection.ts';
import { listed, type Rows } from './rows.ts';

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
  changes?: readonly { table: string; id: string; before: object | null; after: object }[];
};

/** What the lines after a collection's last one touch: they themselves, what they take back, and what they put right. */
export function touchedBy(rows: Rows, { seq, batches: known }: Pick<Collection, 'seq' | 'batches'>): Touched {
  const pots = new Set<string>();
  const batches = new Set<string>();
  const products = new Set<string>();
  const waters = new Map<string, string>();
  const counted = new Set<string>();
  const drawnOn = new Set<string>();
  const tables = new Set<string>();
  const lines = withNamed(rows, rows<Line>('SELECT * FROM main.care_event WHERE seq > ?', seq));
  const readOf = (id: string, at: string) => waters.set(id, [waters.get(id) ?? at, at].sort()[0]!);
  for (const line of lines) {
    const payload = JSON.parse(line.payload) as Payload;
    if (line.potId) pots.add(line.potId);
    if (line.batchId) batches.add(line.batchId);
    if (payload.keepAs) batches.add(payload.keepAs);
    if (line.kind === 'waterRead' && payload.waterId) readOf(payload.waterId, line.at);
    if (line.kind === 'waterCounted' && payload.waterId) counted.add(payload.waterId);
    if (line.kind === 'batchBase' && line.batchId) {
      const waterId =
        known.get(line.batchId)?.row.waterId ??
        rows<{ waterId: string }>('SELECT waterId FROM main.batch WHERE id = ?', line.batchId)[0]?.waterId;
      if (waterId) readOf(waterId, line.at);
    }
    if (line.kind === 'meterChecked' || line.kind === 'meterMarkedOff') tables.add('meter');
    if (DRAWS.includes(line.kind)) drawnOn.add(line.localDate);
    for (const { table, id, after } of payload.changes ?? []) {
      tables.add(table);
      if (table === 'pot') pots.add(id);
      else if (table === 'product') products.add(id);
      // Past every reading: what was read of it stands.
      else if (table === 'water') waters.set(id, waters.get(id) ?? '9999');
      // What a pot follows and what is planned for it is the pot's: named where the record was added, and by the record itself where it was changed.
      const about = after as { potId?: unknown; subjectId?: unknown };
      if (typeof about.potId === 'string') pots.add(about.potId);
      if (typeof about.subjectId === 'string') pots.add(about.subjectId);
      if (table === 'pot_regimen')
        for (const { potId } of rows<{ potId: string }>('SELECT potId FROM pot_regimen WHERE id = ?', id))
          pots.add(potId);
      if (table === 'planned_act')
        for (const { subjectId } of rows<{ subjectId: string | null }>(
          'SELECT subjectId FROM planned_act WHERE id = ?',
          id,
        ))
          if (subjectId) pots.add(subjectId);
    }
  }
  return { pots, batches, products, waters, counted, drawnOn, tables };
}

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
