import { Sqlite } from '../../src/server/database/sqlite.ts';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/* What every fault needs: acts with their numbers, who was told what, and what a stranger finds in the file afterwards. */

/** One line of the report. */
export type Fault = {
  readonly name: string;
  /** How often the fault was made. */
  readonly cases: number;
  readonly acknowledged: number;
  readonly lost: number;
  readonly doubled: number;
  readonly half: number;
  /** Answers of 500 and above that name no fault of the disk. */
  readonly unnamed: number;
  /** Longest wait of anyone for an answer meanwhile, ms; undefined where nobody waited. */
  readonly longestMs?: number;
  readonly note?: string;
};

export const folderFor = (what: string) => mkdtempSync(join(tmpdir(), `frugal-sip-${what}-`));
export const clear = (folder: string) => rmSync(folder, { recursive: true, force: true });

export function numberOf(n: number): string {
  return `00000000-0000-4000-8000-${n.toString(16).padStart(12, '0')}`;
}

/** Longer than any answer takes, shorter than a wait that is stuck. */
const UNANSWERED_MS = 15_000;
/** These name a fault of the disk, of another program, or a swap: the act is kept by its sender and sent again. */
const KEPT = new Set([503, 507, 429]);

/** A grower's device: what it sent, what it was told, what still waits. */
export class Device {
  readonly acknowledged: string[] = [];
  readonly waiting: { id: string; body: object }[] = [];
  unnamed = 0;
  longestMs = 0;
  statuses = new Map<number, number>();
  readonly #headers: Record<string, string>;
  readonly #url: () => string;

  constructor(url: () => string, headers: Record<string, string> = {}) {
    this.#url = url;
    this.#headers = headers;
  }

  /** Sends an act; what was not acknowledged waits, as in the outbox. @returns the status, 0 where nobody answered */
  async act(n: number): Promise<number> {
    const id = numberOf(n);
    const body = {
      kind: 'plan',
      planId: numberOf(n + 500_000_000),
      subjectKind: 'collection',
      subjectId: null,
      words: `act ${n} ${'x'.repeat(60)}`,
      onDate: '2026-12-01',
      origin: 'grower',
    };
    return this.#send({ id, body });
  }

  /** Sends again what waits. @returns whether all is settled */
  async flush(): Promise<boolean> {
    for (const act of this.waiting.splice(0)) await this.#send(act);
    return this.waiting.length === 0;
  }

  /** @returns the status, 0 where nobody answered */
  async look(path: string): Promise<number> {
    return (await this.request('GET', path)).status;
  }

  async request(method: string, path: string, body?: object): Promise<{ status: number; text: string }> {
    const from = performance.now();
    try {
      const response = await fetch(`${this.#url()}${path}`, {
        method,
        headers: { ...(body ? { 'content-type': 'application/json' } : {}), ...this.#headers },
        ...(body ? { body: JSON.stringify(body) } : {}),
        signal: AbortSignal.timeout(UNANSWERED_MS),
      });
      const text = await response.text();
      this.longestMs = Math.max(this.longestMs, performance.now() - from);
      this.statuses.set(response.status, (this.statuses.get(response.status) ?? 0) + 1);
      if (response.status >= 500 && !KEPT.has(response.status)) this.unnamed++;
      return { status: response.status, text };
    } catch {
      return { status: 0, text: '' };
    }
  }

  async #send(act: { id: string; body: object }): Promise<number> {
    const { status } = await this.request('PUT', `/api/shell/plans/acts/${act.id}`, act.body);
    if (status === 200) this.acknowledged.push(act.id);
    else this.waiting.push(act);
    return status;
  }
}

/** How often each act stands in a file, and which stand there half: an act without the plan it made. */
export function inFile(
  file: string,
  requests = true,
): { times: Map<string, number>; half: string[]; integrity: string } {
  const db = new Sqlite(file, { readonly: true });
  try {
    const times = new Map<string, number>();
    for (const { id } of db.prepare(`SELECT id FROM care_event WHERE kind = 'recordsChanged'`).all() as {
      id: string;
    }[])
      times.set(id, (times.get(id) ?? 0) + 1);
    // What was logged before an update has no numbers of requests.
    const withRequests =
      requests && db.prepare(`SELECT 1 FROM sqlite_master WHERE name = 'act_request'`).all().length > 0;
    const half = db
      .prepare(
        `SELECT e.id FROM care_event e LEFT JOIN planned_act p ON p.id = json_extract(e.payload, '$.changes[0].id')
         WHERE e.kind = 'recordsChanged' AND e.payload LIKE '%"act %' AND (p.id IS NULL ${withRequests ? 'OR NOT EXISTS (SELECT 1 FROM act_request r WHERE r.id = e.id)' : ''})`,
      )
      .all() as { id: string }[];
    const [check] = db.prepare('PRAGMA integrity_check').all() as { integrity_check: string }[];
    return { times, half: half.map((row) => row.id), integrity: check?.integrity_check ?? 'not checked' };
  } finally {
    db.close();
  }
}

/** What of the acknowledged acts is missing from all files, or stands twice in one. */
export function judge(
  acknowledged: readonly string[],
  files: readonly string[],
  requests = true,
): { lost: number; doubled: number; half: number } {
  const seen = new Set<string>();
  let [doubled, half] = [0, 0];
  for (const file of files) {
    const found = inFile(file, requests);
    if (found.integrity !== 'ok') throw new Error(`${file}: ${found.integrity}`);
    half += found.half.length;
    for (const [id, times] of found.times) {
      seen.add(id);
      if (times > 1) doubled++;
    }
  }
  return { lost: acknowledged.filter((id) => !seen.has(id)).length, doubled, half };
}

export const backupsIn = (folder: string, why = '') =>
  readdirSync(join(folder, 'backups'))
    .filter((name) => name.endsWith('.sqlite') && name.includes(why))
    .map((name) => join(folder, 'backups', name));

/** Resident memory of a process, MB. */
export function memoryOf(pid: number): number {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}

/** Numbers that look random and are the same every time (mulberry32). */
export function seeded(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
