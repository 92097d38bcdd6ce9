import type { EntityManager } from 'typeorm';
import { rowsFor, upTo, versionAt, versionsOf, type Rows, type Versions } from '../../collection/index.ts';
import type { CarePayload } from '../../../contract/care.ts';
import { NAMED_FIELDS, NAMED_FROM, tellWords, type NamedLine } from '../../told.ts';
import { CORRECTS_MARK, markOf, numberOf, PHOTO_MARK, wordsIn } from './log-tokens.ts';

/** Lines put into the index at one go: some tens of milliseconds' work. */
const AT_ONCE = 500;

/** Whether there are lines that cannot be found yet: of a collection that an earlier version wrote, or that was brought in. */
export function hasUnindexed(rows: Rows): boolean {
  const [{ last, done }] = rows<{ last: number; done: number }>(
    `SELECT (SELECT coalesce(max(seq), 0) FROM main.care_event) AS last, (SELECT coalesce(max(seq), 0) FROM log_indexed) AS done`,
  ) as [{ last: number; done: number }];
  return done < last;
}

/**
 * Puts lines that are not in the index of words there, oldest first: within the transaction that writes them. A line never changes, so it is put there once;
 * that it was taken back or put right is asked of the log itself.
 * @param most lines at the most; all by default
 */
export function indexNewLines(manager: EntityManager, most = Infinity): void {
  const rows = rowsFor(manager);
  for (let left = most; left > 0 && hasUnindexed(rows); left -= AT_ONCE) indexSome(rows, Math.min(left, AT_ONCE));
}

function indexSome(rows: Rows, most: number): void {
  const lines = rows<NamedLine & { placeId: string | null }>(
    `SELECT ${NAMED_FIELDS}, p.placeId FROM ${NAMED_FROM.replace(
      'main.care_event e',
      '(SELECT * FROM main.care_event WHERE seq > (SELECT coalesce(max(seq), 0) FROM log_indexed) ORDER BY seq LIMIT ?) e',
    )} ORDER BY e.seq`,
    most,
  );
  const places = placesThen(rows, lines);
  for (const line of lines)
    rows(
      'INSERT INTO log_index (rowid, words) VALUES (CAST(? AS INTEGER), ?)',
      numberOf(line.localDate, line.seq),
      wordsOf(line, places),
    );
  rows(
    `INSERT INTO log_indexed (id, seq) VALUES ('log', ?) ON CONFLICT (id) DO UPDATE SET seq = excluded.seq`,
    lines.at(-1)!.seq,
  );
}

/** Where the pots of some lines stood, from when on. */
function placesThen(rows: Rows, lines: readonly (NamedLine & { placeId: string | null })[]): Map<string, Versions> {
  const now = new Map(lines.flatMap(({ potId, placeId }) => (potId && placeId ? [[potId, placeId] as const] : [])));
  const logged = versionsOf(rows, 'pot', [...now.keys()], 'placeId');
  return new Map([...now].map(([potId, placeId]) => [potId, upTo(logged.get(potId), placeId)]));
}

/** Everything a line is found by. One that cannot be understood is found by its pot, its batch and its kind. */
function wordsOf(line: NamedLine, places: ReadonlyMap<string, Versions>): string {
  const { potId, batchId, kind, corrects, at } = line;
  const place = potId ? versionAt(places.get(potId) ?? [], at) : null;
  const marks = [
    markOf('kind', kind),
    ...(potId ? [markOf('pot', potId)] : []),
    ...(place ? [markOf('place', place)] : []),
    ...(batchId ? [markOf('batch', batchId)] : []),
    ...(corrects ? [CORRECTS_MARK] : []),
  ];
  try {
    return [...marks, ...toldWords(line)].join(' ');
  } catch {
    return marks.join(' ');
  }
}

/** Fields that name what a line is about, whatever its kind. */
const SUBJECTS = ['waterId', 'productId', 'meterId', 'clayId', 'regimenId'] as const;

function toldWords(line: NamedLine): string[] {
  const { event, act, named, group, where, what, pens } = tellWords(line, 'metric');
  const payload = event.payload as Partial<Record<(typeof SUBJECTS)[number], unknown>> &
    Partial<CarePayload<'noteWritten'>>;
  const { ppm, ph } = act.figures?.(event.payload) ?? {};
  const read = (reading: { kind: string } | null | undefined) => !!reading && reading.kind !== 'notMeasured';
  const shown = act.shows?.(named);
  return [
    markOf('group', group),
    ...((read(ppm) || shown?.ecUsCm != null) && pens.ppmMeterId ? [markOf('meter', pens.ppmMeterId)] : []),
    ...((read(ph) || shown?.ph != null) && pens.phMeterId ? [markOf('meter', pens.phMeterId)] : []),
    ...SUBJECTS.flatMap((field) => (typeof payload[field] === 'string' ? [markOf('subject', payload[field])] : [])),
    ...(payload.potIds ?? []).map((id) => markOf('pot', id)),
    ...(act.picture?.(event) ? [PHOTO_MARK] : []),
    ...wordsIn([where, what, line.code, line.place, line.batchName, group].filter(Boolean).join(' ')),
  ];
}

/** Fills the index for lines of before this version, some at a time, so that acts are written in between. */
export async function fillIndex(
  read: () => EntityManager,
  write: (work: (manager: EntityManager) => Promise<void>) => Promise<void>,
): Promise<void> {
  while (hasUnindexed(rowsFor(read())))
    await write((manager) => {
      indexNewLines(manager, 4 * AT_ONCE);
      return Promise.resolve();
    });
}

/** SQL for the lines of some numbers, as they are named. */
export const linesNumbered = (rows: Rows, seqs: readonly number[]): NamedLine[] =>
  rows<NamedLine>(
    `SELECT ${NAMED_FIELDS} FROM ${NAMED_FROM.replace('main.care_event e', '(SELECT * FROM main.care_event WHERE seq IN (SELECT value FROM json_each(?))) e')}
     ORDER BY e.localDate DESC, e.seq DESC`,
    JSON.stringify(seqs),
  );
