import { createReadStream, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';
import { WHOLE_FORMAT, WHOLE_VERSION } from '../../../contract/whole.ts';

/*
 * A whole collection read again, record by record. Written as ours is, a record a line, it is never held whole; any other JSON of the same contents is read at one go,
 * up to a size.
 */

/** One record of a file: of a table, of the log, or a photo. `line`: where it stands, 1 the first; null where the file has not a record a line. */
export type WholeRecord = {
  readonly part: 'tables' | 'log' | 'photos';
  readonly table: string;
  readonly row: unknown;
  readonly line: number | null;
};

/** What keeps a file from being read at all, in words for the grower. */
export class NotWhole extends Error {}

/** Past this a file that has not a record a line is not read: a text of it would not fit. */
const MOST_AT_ONCE = 256 * 1024 * 1024;
/** A line longer than this is no record: the largest is a photo in letters. */
const MOST_LINE = 64 * 1024 * 1024;

type Head = { readonly madeAt: string | null };

/** @param head told once, before the first record; `seen` of the bytes that were read @throws NotWhole */
export async function* readWhole(
  file: string,
  head: (head: Head) => void,
  seen: (bytes: number) => void,
): AsyncGenerator<WholeRecord> {
  const first = await firstLine(file);
  if (/^\s*\{"format":.*,\s*$/.test(first)) yield* byLines(createReadStream(file), head, seen);
  else yield* atOnce(file, head);
}

async function firstLine(file: string): Promise<string> {
  const start = await new Promise<string>((resolve, reject) => {
    let text = '';
    createReadStream(file, { encoding: 'utf8', start: 0, end: 4095 })
      .on('data', (piece) => (text += String(piece)))
      .on('end', () => resolve(text))
      .on('error', reject);
  });
  return start.replace(/^\ufeff/, '').split('\n')[0] ?? '';
}

/** Ours: a record a line, the brackets on lines of their own. */
async function* byLines(
  stream: Readable,
  head: (head: Head) => void,
  seen: (bytes: number) => void,
): AsyncGenerator<WholeRecord> {
  let at: Place | undefined;
  let n = 0;
  let ended = false;
  for await (const raw of createInterface({ input: stream, crlfDelay: Infinity })) {
    n++;
    seen(raw.length + 1);
    if (raw.length > MOST_LINE)
      throw new NotWhole(`Line ${n} is longer than any record. The file is not one of ours, or was damaged.`);
    const text = raw.trim();
    if (n === 1) head(headOf(jsonAt(`${text.replace(/^\ufeff/, '').replace(/,$/, '')}}`, n)));
    else if (BEGINS.test(text)) at = placeOf(text);
    else if (text === '}') ended ||= at?.part === 'photos';
    else if (!/^(?:[\]}],?)?$/.test(text)) {
      if (!at)
        throw new NotWhole(`Line ${n} stands where no record can stand. The file is not one of ours, or was damaged.`);
      yield { ...at, row: jsonAt(text.replace(/,$/, ''), n), line: n };
    }
  }
  if (!ended)
    throw new NotWhole(`The file ends at line ${n}, in the middle. Save it once more, whole, and bring that in.`);
}

type Place = Pick<WholeRecord, 'part' | 'table'>;
const BEGINS = /^"(\w+)":\s*([[{])$/;

/** Which list a line begins; none where it begins the tables themselves. */
function placeOf(text: string): Place | undefined {
  const [, name = '', bracket] = BEGINS.exec(text) ?? [];
  if (bracket === '{') return undefined;
  return name === 'log' || name === 'photos' ? { part: name, table: name } : { part: 'tables', table: name };
}

async function* atOnce(file: string, head: (head: Head) => void): AsyncGenerator<WholeRecord> {
  if (statSync(file).size > MOST_AT_ONCE)
    throw new NotWhole(
      'That file has not a record a line and is too large to be read so. Bring it in as it was saved here.',
    );
  const text = (await readFile(file, 'utf8')).replace(/^\ufeff/, '');
  const whole = jsonAt(text, null) as Record<string, unknown> | null;
  head(headOf(whole));
  const { tables, log, photos } = whole as { tables?: Record<string, unknown>; log?: unknown; photos?: unknown };
  for (const [table, rows] of Object.entries(tables ?? {}))
    for (const row of listOf(rows, table)) yield { part: 'tables', table, row, line: null };
  for (const row of listOf(log ?? [], 'log')) yield { part: 'log', table: 'log', row, line: null };
  for (const row of listOf(photos ?? [], 'photos')) yield { part: 'photos', table: 'photos', row, line: null };
}

function listOf(rows: unknown, name: string): unknown[] {
  if (!Array.isArray(rows))
    throw new NotWhole(`"${name}" of that file is no list. The file is not one of ours, or was damaged.`);
  return rows as unknown[];
}

function jsonAt(text: string, line: number | null): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new NotWhole(
      line === null
        ? 'That file is no JSON, or was not saved whole. Save it once more and bring that in.'
        : `Line ${line} cannot be read. The file was damaged, or not saved whole: save it once more and bring that in.`,
    );
  }
}

function headOf(head: unknown): Head {
  const { format, version, madeAt } = (head ?? {}) as Record<string, unknown>;
  if (format !== WHOLE_FORMAT)
    throw new NotWhole(
      'That file is not a collection saved by Frugal Sip. Choose a JSON or ZIP that was saved under Book, Take it with you.',
    );
  if (typeof version !== 'number' || version > WHOLE_VERSION)
    throw new NotWhole(
      `That file was written by a newer version of Frugal Sip (its form ${String(version)}, here ${WHOLE_VERSION}). Bring it in there, or update this one.`,
    );
  return { madeAt: typeof madeAt === 'string' && !Number.isNaN(Date.parse(madeAt)) ? madeAt : null };
}
