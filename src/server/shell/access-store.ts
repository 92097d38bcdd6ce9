import type { Sqlite } from '../database/sqlite.ts';
import { existsSync, readFileSync } from 'node:fs';
import { z } from 'zod';
import { writeWhole } from './write-whole.ts';

const device = z.object({
  /** Only a hash of its token is kept. */
  tokenHash: z.string().regex(/^[0-9a-f]{64}$/),
  device: z.string().max(40),
  startedAt: z.iso.datetime(),
  lastSeenAt: z.iso.datetime(),
  lastAddress: z.string().max(64),
});
export type LetIn = z.infer<typeof device>;

const access = z.object({
  /** `scrypt$salt$key`; null where none was set. */
  passphrase: z
    .string()
    .regex(/^scrypt\$/)
    .nullable(),
  open: z.boolean(),
  /** Doors with a lock on the line (https) beside the plain ones. */
  lock: z.boolean().default(false),
  devices: z.array(device).max(100),
});
export type Access = Readonly<z.infer<typeof access>>;
const NOBODY: Access = { passphrase: null, open: false, lock: false, devices: [] };

/**
 * Who may come in over the home network, in a file of its own beside the collection (`collection.access.json`): no backup holds it, so none brings a
 * passphrase, a device or an open door with it.
 */
export class AccessStore {
  readonly #file: string;
  #now: Access;
  /** Set when the file could not be understood: the doors stay shut until a passphrase is set anew. */
  readonly problem: string | null;

  constructor(file: string) {
    this.#file = file;
    let problem: string | null = null;
    let found = NOBODY;
    if (existsSync(file)) {
      try {
        found = access.parse(JSON.parse(readFileSync(file, 'utf8')));
      } catch {
        problem = 'The list of who may come in cannot be read, so nobody is let in. Set a passphrase anew.';
      }
    }
    this.#now = found;
    this.problem = problem;
  }

  get now(): Access {
    return this.#now;
  }

  /** Keeps it, whole and on the disk, before it holds. @throws ENOSPC and its like: then the old holds */
  keep(next: Access): void {
    writeWhole(this.#file, JSON.stringify(access.parse(next)));
    this.#now = next;
  }
}

export const accessFileOf = (file: string) => file.replace(/\.sqlite$/, '.access.json');

/** Versions before kept it in the collection: carried over once, from the grower's own file as it is brought to this version, never from a backup. */
export function carryAccessOver(raw: Sqlite, file: string): void {
  if (existsSync(file)) return;
  const has = (table: string) =>
    raw.prepare(`SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = ?`).get(table) !== undefined;
  if (!has('session') || !has('setting')) return;
  const value = (key: string) =>
    raw.prepare<[string], { value: string }>('SELECT value FROM setting WHERE key = ?').get(key)?.value;
  const devices = raw
    .prepare<[], Omit<LetIn, 'lastAddress'>>(
      'SELECT tokenHash, substr(device, 1, 40) AS device, startedAt, lastSeenAt FROM session ORDER BY lastSeenAt DESC LIMIT 30',
    )
    .all()
    .map((row) => ({ ...row, lastAddress: '' }));
  const carried = access.safeParse({
    passphrase: value('lanPassphrase') ?? null,
    open: value('lanOpen') === '1',
    devices,
  });
  if (carried.success) writeWhole(file, JSON.stringify(carried.data));
}
