import { z } from 'zod';
import { carePayloads, type CareKind } from '../../../contract/care.ts';
import { id, localDate } from '../../../contract/common.ts';
import type { BringProblem, BringReport } from '../../../contract/whole.ts';
import type { Sqlite, Statement } from '../sqlite.ts';
import type { WholeRecord } from './read-whole.ts';
import { OWN_SETTINGS, WHOLE_TABLES, type WholeTable } from './whole-tables.ts';
import { LOG_COLUMNS } from './write-whole.ts';

/*
 * Records brought into a collection: what is there already, by its number, stays as it is there; the rest comes. One transaction of the caller's: all of it or nothing.
 */

/** Problems told one by one; of more only how many. */
const MOST_TOLD = 50;
const MOST_PHOTO_BYTES = 20 * 1024 * 1024;

/** A line of the log as it is brought; what it says is looked at, not demanded: an odd line comes along and is left out of every reckoning, as before. */
const logLine = z.object({
  id,
  kind: z.string().min(1).max(80),
  at: z.string().refine((at) => !Number.isNaN(Date.parse(at)), 'no instant'),
  localDate,
  potId: id.nullable(),
  batchId: id.nullable(),
  dueKey: z.string().max(200).nullable(),
  voidedBy: id.nullable(),
  corrects: id.nullable(),
  payload: z.unknown(),
  about: z.array(z.string().max(200)).max(20_000),
});
type LogLine = z.infer<typeof logLine>;
const photoRow = z.object({ id, jpeg: z.base64() });

export class Merger {
  readonly #raw: Sqlite;
  readonly #problems: BringProblem[] = [];
  #more = 0;
  readonly #tables = new Map(WHOLE_TABLES.map((table) => [table.name, { table, comes: 0, here: 0, differs: 0 }]));
  readonly #lines = { comes: 0, here: 0, odd: 0, since: null as string | null };
  readonly #photos = { comes: 0, here: 0 };
  readonly #statements = new Map<string, Statement>();
  /** Lines that were here and are taken back, or put right, by lines that come. */
  readonly #voided: { id: string; by: string }[] = [];

  constructor(raw: Sqlite) {
    this.#raw = raw;
  }

  /** @param beside the photo of that record, where it stands beside the file */
  add({ part, table, row, line }: WholeRecord, beside: Buffer | undefined): void {
    if (part === 'log') this.#addLine(row, line);
    else if (part === 'photos') this.#addPhoto(row, line, beside);
    else this.#addRow(table, row, line);
  }

  /** Once everything is in. */
  end(): void {
    const setVoid = this.#prepared(`UPDATE care_event SET voidedBy = ? WHERE id = ? AND voidedBy IS NULL`);
    for (const { id: voided, by } of this.#voided) if (this.#has('care_event', by)) setVoid.run(by, voided);
    const astray = this.#raw
      .prepare<[], { table: string; parent: string; rowid: number }>('PRAGMA foreign_key_check')
      .all();
    for (const { table, parent } of astray)
      this.#problem(
        null,
        table,
        `It names a record of "${parent}" that is neither in the file nor here. Save the file once more, whole.`,
      );
    const noVoider = this.#raw
      .prepare<[], { n: number }>(
        'SELECT count(*) AS n FROM care_event e WHERE voidedBy IS NOT NULL AND NOT EXISTS (SELECT 1 FROM care_event v WHERE v.id = e.voidedBy)',
      )
      .get()!;
    if (noVoider.n > 0)
      this.#problem(
        null,
        'log',
        `${noVoider.n} lines are taken back by lines that are not in the file. Save it once more, whole.`,
      );
  }

  report(madeAt: string | null): BringReport {
    return {
      madeAt,
      tables: [...this.#tables.values()]
        .filter(({ comes, here }) => comes + here > 0)
        .map(({ table, comes, here, differs }) => ({ table: table.name, comes, here, differs })),
      lines: { ...this.#lines },
      photos: { ...this.#photos },
      problems: this.#problems,
      moreProblems: this.#more,
    };
  }

  #problem(line: number | null, what: string, message: string): void {
    if (this.#problems.length < MOST_TOLD) this.#problems.push({ line, what, message });
    else this.#more++;
  }

  #prepared(sql: string): Statement {
    let statement = this.#statements.get(sql);
    if (!statement) this.#statements.set(sql, (statement = this.#raw.prepare(sql)));
    return statement;
  }

  #has(table: string, key: string): boolean {
    return this.#prepared(`SELECT 1 FROM main."${table}" WHERE id = ?`).get(key) !== undefined;
  }

  #addRow(name: string, row: unknown, line: number | null): void {
    const counts = this.#tables.get(name);
    if (!counts) return this.#problem(line, name, `There is no table "${name}" in a collection of this version.`);
    const { table } = counts;
    if (!isFields(row)) return this.#problem(line, name, 'That is no record.');
    const unknown = Object.keys(row).find((field) => !table.columns.some((column) => column.name === field));
    if (unknown) return this.#problem(line, name, `There is no field "${unknown}" in it.`);
    if (name === 'setting' && OWN_SETTINGS.has(String(row['key']))) return;
    const values = valuesOf(table, row);
    if (typeof values === 'string') return this.#problem(line, name, values);
    const there = this.#there(table, row);
    if (there) {
      counts.here++;
      if (table.columns.some((column, i) => there[column.name] !== values[i])) counts.differs++;
      return;
    }
    const columns = table.columns.map((column) => `"${column.name}"`).join(', ');
    try {
      this.#prepared(`INSERT INTO "${name}" (${columns}) VALUES (${table.columns.map(() => '?').join(', ')})`).run(
        ...values,
      );
      counts.comes++;
    } catch (error) {
      this.#problem(line, name, whyNot(error, row));
    }
  }

  #there(table: WholeTable, row: Record<string, unknown>): Record<string, unknown> | undefined {
    const keys = table.keys.map((key) => `"${key}" = ?`).join(' AND ');
    const named = table.keys.map((key) => row[key] as string);
    return this.#prepared(`SELECT * FROM main."${table.name}" WHERE ${keys}`).get(...named) as
      Record<string, unknown> | undefined;
  }

  #addLine(row: unknown, line: number | null): void {
    const read = logLine.safeParse(row);
    if (!read.success) {
      const issue = read.error.issues[0];
      return this.#problem(line, 'log', `A line of the log without a sound ${issue?.path.join('.') || 'form'}.`);
    }
    const event = read.data;
    const there = this.#prepared('SELECT voidedBy FROM main.care_event WHERE id = ?').get(event.id) as
      { voidedBy: string | null } | undefined;
    if (there) {
      this.#lines.here++;
      if (event.voidedBy && there.voidedBy === null) this.#voided.push({ id: event.id, by: event.voidedBy });
      return;
    }
    try {
      this.#insertLine(event);
    } catch (error) {
      return this.#problem(line, 'log', whyNot(error, event));
    }
    this.#lines.comes++;
    if (!understood(event)) this.#lines.odd++;
    if (this.#lines.since === null || event.localDate < this.#lines.since) this.#lines.since = event.localDate;
  }

  #insertLine(event: LogLine): void {
    // A line that puts another right stands in that one's place.
    const place = event.corrects
      ? (this.#prepared('SELECT coalesce(standsAt, seq) AS at FROM main.care_event WHERE id = ?').get(
          event.corrects,
        ) as { at: number } | undefined)
      : undefined;
    this.#prepared(
      `INSERT INTO care_event (${LOG_COLUMNS.join(', ')}, payload, standsAt) VALUES (${LOG_COLUMNS.map(() => '?').join(', ')}, ?, ?)`,
    ).run(...LOG_COLUMNS.map((column) => event[column]), JSON.stringify(event.payload ?? null), place?.at ?? null);
    for (const subject of event.about)
      this.#prepared('INSERT OR IGNORE INTO event_touch (subject, eventId) VALUES (?, ?)').run(subject, event.id);
  }

  #addPhoto(row: unknown, line: number | null, jpeg: Buffer | undefined): void {
    const read = jpeg
      ? { id: id.safeParse((row as { id?: unknown }).id).data, jpeg }
      : { id: photoRow.safeParse(row).data?.id, jpeg: Buffer.from(photoRow.safeParse(row).data?.jpeg ?? '', 'base64') };
    if (read.id === undefined) return this.#problem(line, 'photos', 'A photo that is not in the file.');
    if (!isJpeg(read.jpeg)) return this.#problem(line, 'photos', 'That is no JPEG, or a very large one.');
    if (this.#has('photo', read.id)) {
      this.#photos.here++;
      return;
    }
    this.#prepared('INSERT INTO photo (id, jpeg) VALUES (?, ?)').run(read.id, read.jpeg);
    this.#photos.comes++;
  }
}

const isFields = (row: unknown): row is Record<string, unknown> =>
  typeof row === 'object' && row !== null && !Array.isArray(row);
const isJpeg = (jpeg: Buffer) =>
  jpeg.length > 100 && jpeg.length <= MOST_PHOTO_BYTES && jpeg[0] === 0xff && jpeg[1] === 0xd8 && jpeg[2] === 0xff;

function understood({ kind, payload }: LogLine): boolean {
  const shape = Object.hasOwn(carePayloads, kind) ? carePayloads[kind as CareKind] : undefined;
  return shape?.safeParse(payload).success ?? false;
}

/** A record's values in the order of its columns; in words why not. A field that is missing is empty. */
function valuesOf({ columns }: WholeTable, row: Record<string, unknown>): (string | number | null)[] | string {
  const values: (string | number | null)[] = [];
  for (const { name, type, nullable, json } of columns) {
    const value = row[name];
    if (value === undefined || (value === null && nullable)) {
      if (!nullable) return `The field "${name}" is missing.`;
      values.push(null);
    } else if (json) values.push(JSON.stringify(value));
    else if (type === 'text' ? typeof value === 'string' && !value.includes('\0') : typeof value === 'number')
      values.push(value as string | number);
    else return `The field "${name}" is no ${type === 'text' ? 'text' : 'number'}.`;
  }
  return values;
}

/** Why a record does not fit, with the remedy. */
function whyNot(error: unknown, row: Record<string, unknown>): string {
  const words = String((error as Error).message);
  const [, table, field] = /UNIQUE constraint failed: (\w+)\.(\w+)/.exec(words) ?? [];
  if (table === 'pot' && field === 'code')
    return `Another pot ${String(row['code'])} is here. Give one of the two another code first, then bring the file in again.`;
  if (field === 'dueKey')
    return 'That pot was logged here for the same day by another line. Take one of the two back first.';
  if (table) return `Another one with the same ${field} is here. Change one of the two first.`;
  if (/CHECK constraint failed/.test(words))
    return `A figure in it is out of its bounds (${/failed: (\w+)/.exec(words)?.[1] ?? 'unknown'}).`;
  if (/FOREIGN KEY/.test(words)) return 'It names something that is neither in the file nor here.';
  return `It does not fit (${words.slice(0, 120)}).`;
}
