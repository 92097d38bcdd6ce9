import { WHOLE_FORMAT, WHOLE_VERSION } from '../../../contract/whole.ts';
import type { Sqlite } from '../sqlite.ts';
import { OWN_SETTINGS, WHOLE_TABLES, type WholeTable } from './whole-tables.ts';

/*
 * Everything as one JSON, a record a line: any reader of JSON reads it, and ours need not hold it whole. What is the same collection is the same text, but for the time
 * of making.
 */

/** How much text is handed on at a time. */
const PIECE = 64 * 1024;

/** Text in pieces of a size that streams well. */
function* pieces(lines: Iterable<string>): Generator<string> {
  let piece = '';
  for (const line of lines) {
    piece += line;
    if (piece.length < PIECE) continue;
    yield piece;
    piece = '';
  }
  if (piece) yield piece;
}

/** Rows a line each, parted by commas. */
function* list(texts: Iterable<string>): Generator<string> {
  let first = true;
  for (const text of texts) {
    yield `${first ? '' : ','}\n${text}`;
    first = false;
  }
  yield '\n]';
}

type Photo = { readonly id: string; readonly jpeg: Uint8Array };
/** How a photo is written: within, or as the name of the file beside it. */
export type PhotoAs = (photo: { readonly id: string }, jpeg: () => Uint8Array) => object;
const within: PhotoAs = ({ id }, jpeg) => ({ id, jpeg: Buffer.from(jpeg()).toString('base64') });

/** @param raw a connection that sees one moment all the while */
export function* wholeJson(raw: Sqlite, madeAt: Date, photoAs: PhotoAs = within): Generator<string> {
  yield* pieces(
    (function* () {
      yield `{"format":${JSON.stringify(WHOLE_FORMAT)},"version":${WHOLE_VERSION},"madeAt":${JSON.stringify(madeAt.toISOString())},\n"tables":{`;
      for (const [i, table] of WHOLE_TABLES.entries()) {
        yield `${i === 0 ? '' : ','}\n"${table.name}":[`;
        yield* list(rowsOf(raw, table));
      }
      yield '\n},\n"log":[';
      yield* list(logLines(raw));
      yield ',\n"photos":[';
      yield* list(photosOf(raw, photoAs));
      yield '\n}\n';
    })(),
  );
}

/** The log alone, a line each (JSON Lines). */
export function* logJsonl(raw: Sqlite): Generator<string> {
  yield* pieces(
    (function* () {
      for (const line of logLines(raw)) yield `${line}\n`;
    })(),
  );
}

function* rowsOf(raw: Sqlite, { name, columns }: WholeTable): Generator<string> {
  const list = columns.map((column) => `"${column.name}"`).join(', ');
  for (const row of raw
    .prepare<[], Record<string, unknown>>(`SELECT ${list} FROM main."${name}" ORDER BY rowid`)
    .iterate()) {
    if (name === 'setting' && OWN_SETTINGS.has(String(row['key']))) continue;
    const out: Record<string, unknown> = {};
    for (const column of columns) out[column.name] = column.json ? parsed(row[column.name]) : row[column.name];
    yield JSON.stringify(out);
  }
}

/** What stands in the file as text; as it is, where a hand wrote something else there. */
function parsed(value: unknown): unknown {
  if (typeof value !== 'string') return value;
  try {
    return JSON.parse(value) as unknown;
  } catch {
    return value;
  }
}

type LogRow = Readonly<Record<(typeof LOG_COLUMNS)[number], unknown>> & {
  readonly payload: string;
  readonly sound: number;
  readonly about: string;
};
export const LOG_COLUMNS = [
  'id',
  'kind',
  'at',
  'localDate',
  'potId',
  'batchId',
  'dueKey',
  'voidedBy',
  'corrects',
] as const;

/** Each line as JSON. Its payload goes out as it stands, where it can: read and written again, most of the time would go there. */
function* logLines(raw: Sqlite): Generator<string> {
  const rows = raw
    .prepare<[], LogRow>(
      `SELECT ${LOG_COLUMNS.map((column) => `e.${column}`).join(', ')}, e.payload, json_valid(e.payload) AND instr(e.payload, char(10)) = 0 AS sound,
         (SELECT json_group_array(subject) FROM (SELECT subject FROM event_touch WHERE eventId = e.id ORDER BY subject)) AS about
       FROM main.care_event e ORDER BY e.seq`,
    )
    .iterate();
  for (const row of rows) {
    const { id, kind, at, localDate, potId, batchId, dueKey, voidedBy, corrects } = row;
    const head = JSON.stringify({ id, kind, at, localDate, potId, batchId, dueKey, voidedBy, corrects });
    const payload = row.sound === 1 ? row.payload : JSON.stringify(parsed(row.payload));
    yield `${head.slice(0, -1)},"payload":${payload},"about":${row.about}}`;
  }
}

function* photosOf(raw: Sqlite, photoAs: PhotoAs): Generator<string> {
  const jpeg = raw.prepare<[string], Photo>('SELECT * FROM photo WHERE id = ?');
  for (const { id } of raw.prepare<[], { id: string }>('SELECT id FROM photo ORDER BY rowid').iterate())
    yield JSON.stringify(photoAs({ id }, () => jpeg.get(id)!.jpeg));
}

/** Every photo with a name that says what it is of: "2026-11-02 R-01 1f3a.jpg". */
export function photoNames(raw: Sqlite): Map<string, string> {
  const names = new Map<string, string>();
  for (const { id, on, code } of raw
    .prepare<[], { id: string; on: string | null; code: string | null }>(
      `SELECT f.id, e.localDate AS "on", coalesce(p.code, b.name) AS code FROM photo f LEFT JOIN main.care_event e ON e.id = f.id
         LEFT JOIN pot p ON p.id = e.potId LEFT JOIN main.batch b ON b.id = e.batchId ORDER BY f.rowid`,
    )
    .iterate()) {
    // Nothing of a name but letters, digits and marks that every system takes in a file's name.
    const said = [on, code]
      .filter(Boolean)
      .join(' ')
      .replace(/[^\p{L}\p{N} ._-]+/gu, '_')
      .slice(0, 80);
    names.set(id, `photos/${said ? `${said} ` : ''}${id}.jpg`);
  }
  return names;
}

export const jpegOf = (raw: Sqlite, id: string): Buffer =>
  Buffer.from(raw.prepare<[string], Photo>('SELECT * FROM photo WHERE id = ?').get(id)?.jpeg ?? []);
