import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { hostname, networkInterfaces } from 'node:os';
import { promisify } from 'node:util';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import type { LanView } from '../../contract/shell.ts';
import { AppError } from '../app-error.ts';
import type { Clock } from '../clock.ts';
import type { Session } from '../database/entities.ts';
import type { Database } from '../database/open.ts';
import type { Gate } from '../security.ts';
import { readSetting, writeSetting } from './settings.ts';

const derive = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt);
/** scrypt at N = 2^15, r = 8, p = 1: 32 MB and some 100 ms a try (RFC 7914; the OWASP floor for passwords). */
const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const KEY_BYTES = 32;
const COOKIE = 'frugal_sip_device';
const SESSION_DAYS = 180;
const PAIRING_MINUTES = 10;
/** Wrong passphrases: five in a row from one address, or thirty from anywhere, shut the way in for a while that doubles each time. */
const TRIES = 5;
const TRIES_FROM_ANYWHERE = 30;
const FIRST_WAIT_MS = 60_000;
const TOUCH_EVERY_MS = 3_600_000;

type Tries = { wrong: number; waits: number; shutUntil: number };

/**
 * The doors to the home network: shut until the grower sets a passphrase and opens them. They stand on this machine's own addresses, each
 * known by that address only; devices are let in with the passphrase or a code that works once, and are remembered by a hash.
 */
export class Lan implements Gate {
  readonly #database: Database;
  readonly #clock: Clock;
  readonly #addresses: () => string[];
  #servers: Server[] = [];
  #app: FastifyInstance | undefined;
  #port = 0;
  #hosts = new Set<string>();
  #problem: string | null = null;
  #opened = '';
  #came = new WeakSet<IncomingMessage>();
  #pairing = new Map<string, number>();
  #tries = new Map<string, Tries>();

  constructor(options: { database: Database; clock: Clock; addresses?: () => string[] }) {
    this.#database = options.database;
    this.#clock = options.clock;
    this.#addresses = options.addresses ?? ownAddresses;
  }

  /** Called once the server listens on the loopback: opens the doors if they were left open. */
  async begin(app: FastifyInstance, port: number): Promise<void> {
    this.#app = app;
    this.#port = port;
    if ((await readSetting(this.#database.read.manager, 'lanOpen')) === '1') await this.#openDoors();
  }

  cameByNetwork(request: IncomingMessage): boolean {
    return this.#came.has(request);
  }

  hosts(): ReadonlySet<string> {
    return this.#hosts;
  }

  async isLetIn(request: FastifyRequest): Promise<boolean> {
    const token = request.cookies[COOKIE];
    if (!token) return false;
    const session = await this.#database.read.manager.getRepository<Session>('session').findOneBy({ tokenHash: hashOf(token) });
    const now = this.#clock.now();
    if (!session || now.getTime() - new Date(session.startedAt).getTime() > SESSION_DAYS * 86_400_000) return false;
    if (now.getTime() - new Date(session.lastSeenAt).getTime() > TOUCH_EVERY_MS)
      await this.#database.write.run((m) => m.query('UPDATE session SET lastSeenAt = ? WHERE tokenHash = ?', [now.toISOString(), session.tokenHash]));
    return true;
  }

  async view(here: boolean): Promise<LanView> {
    // A home network gives out new addresses now and then: the doors move along when somebody looks here.
    if (here && this.#servers.length > 0 && this.#addresses().join() !== this.#opened) await this.#openDoors();
    const manager = this.#database.read.manager;
    const sessions = await manager.query<Session[]>('SELECT * FROM session ORDER BY lastSeenAt DESC');
    return {
      on: this.#servers.length > 0,
      hasPassphrase: (await readSetting(manager, 'lanPassphrase')) !== undefined,
      addresses: this.#servers.length > 0 ? this.#urls() : [],
      problem: this.#problem,
      devices: sessions.map((s) => ({ id: s.tokenHash.slice(0, 16), device: s.device, startedAt: s.startedAt, lastSeenAt: s.lastSeenAt })),
      here,
    };
  }

  /** Opens the doors, with a new passphrase where one is given. A new passphrase shows every device out. @throws AppError `invalid-request` */
  async open(passphrase: string | null): Promise<void> {
    const kept = await readSetting(this.#database.read.manager, 'lanPassphrase');
    if (passphrase === null && kept === undefined) {
      const message = 'Choose a passphrase first: without one the doors stay shut.';
      throw new AppError('invalid-request', message, { errors: [{ path: 'passphrase', message }] });
    }
    const hash = passphrase === null ? undefined : await hashPassphrase(passphrase);
    await this.#database.write.run(async (manager) => {
      if (hash !== undefined) {
        await writeSetting(manager, 'lanPassphrase', hash);
        await manager.query('DELETE FROM session');
      }
      await writeSetting(manager, 'lanOpen', '1');
    });
    await this.#openDoors();
  }

  async shut(): Promise<void> {
    await this.#database.write.run((manager) => writeSetting(manager, 'lanOpen', '0'));
    await this.#closeDoors();
    this.#problem = null;
  }

  async showOut(device: string): Promise<void> {
    await this.#database.write.run((manager) => manager.query('DELETE FROM session WHERE substr(tokenHash, 1, 16) = ?', [device]));
  }

  /** An address to open on the phone that lets it in, once, within ten minutes. The key stands behind the #, which no server is sent. */
  pairing(): { url: string; until: string } {
    const [url] = this.#urls();
    if (this.#servers.length === 0 || url === undefined) throw new AppError('invalid-request', 'Open the home network first.');
    const key = randomBytes(18).toString('base64url');
    const until = this.#clock.now().getTime() + PAIRING_MINUTES * 60_000;
    this.#pairing.set(hashOf(key), until);
    return { url: `${url}/enter#${key}`, until: new Date(until).toISOString() };
  }

  /**
   * Lets a device in. @returns the cookie to set
   * @throws AppError `wrong-passphrase`, `too-many-requests` while the way in is shut
   */
  async enter(proof: { passphrase: string } | { key: string }, from: string, device: string): Promise<{ name: string; value: string; maxAge: number }> {
    const now = this.#clock.now().getTime();
    this.#requireOpenTo(from, now);
    if (!(await this.#proves(proof, now))) {
      this.#countWrong(from, now);
      throw new AppError(
        'wrong-passphrase',
        'key' in proof
          ? 'That code was used already, or is older than ten minutes. Show a new one on the computer.'
          : 'That is not the passphrase. Mind capitals and spaces.',
      );
    }
    this.#tries.delete(from);
    const token = randomBytes(KEY_BYTES).toString('base64url');
    const at = new Date(now).toISOString();
    await this.#database.write.run((manager) =>
      manager.query('INSERT INTO session (tokenHash, device, startedAt, lastSeenAt) VALUES (?, ?, ?, ?)', [hashOf(token), device, at, at]),
    );
    return { name: COOKIE, value: token, maxAge: SESSION_DAYS * 86_400 };
  }

  async end(): Promise<void> {
    await this.#closeDoors();
  }

  async #proves(proof: { passphrase: string } | { key: string }, now: number): Promise<boolean> {
    if ('key' in proof) {
      const hash = hashOf(proof.key);
      const until = this.#pairing.get(hash);
      this.#pairing.delete(hash);
      return until !== undefined && until >= now;
    }
    const kept = await readSetting(this.#database.read.manager, 'lanPassphrase');
    return kept !== undefined && (await isPassphrase(proof.passphrase, kept));
  }

  #requireOpenTo(from: string, now: number): void {
    for (const who of [from, '*']) {
      const shutUntil = this.#tries.get(who)?.shutUntil ?? 0;
      if (shutUntil > now)
        throw new AppError('too-many-requests', `Too many wrong tries. Wait ${Math.ceil((shutUntil - now) / 1000)} seconds, then try once more.`);
    }
  }

  #countWrong(from: string, now: number): void {
    for (const [who, most] of [
      [from, TRIES],
      ['*', TRIES_FROM_ANYWHERE],
    ] as const) {
      const tries = this.#tries.get(who) ?? { wrong: 0, waits: 0, shutUntil: 0 };
      tries.wrong++;
      if (tries.wrong >= most) {
        tries.shutUntil = now + FIRST_WAIT_MS * 2 ** Math.min(tries.waits++, 8);
        tries.wrong = 0;
      }
      this.#tries.set(who, tries);
    }
    // A flood of made-up addresses must not fill the memory.
    if (this.#tries.size > 1000) this.#tries.delete([...this.#tries.keys()].find((who) => who !== '*')!);
  }

  #urls(): string[] {
    return this.#servers.map((server) => {
      const address = server.address();
      return typeof address === 'object' && address ? `http://${address.address}:${address.port}` : '';
    });
  }

  async #openDoors(): Promise<void> {
    await this.#closeDoors();
    const app = this.#app;
    if (!app) return;
    this.#problem = null;
    const addresses = this.#addresses();
    this.#opened = addresses.join();
    if (addresses.length === 0) this.#problem = 'This computer is on no home network just now. Join one, then open it again.';
    for (const address of addresses) {
      const server = createServer((request, response) => {
        this.#came.add(request);
        app.routing(request, response);
      });
      try {
        await new Promise<void>((resolve, reject) => {
          server.once('error', reject);
          server.listen(this.#port, address, resolve);
        });
        this.#servers.push(server);
        for (const name of [address, hostname(), `${hostname()}.local`]) this.#hosts.add(`${name}:${this.#port}`);
      } catch (error) {
        this.#problem = `The address ${address} could not be opened (${(error as { code?: string }).code ?? 'error'}). Another program may hold the port.`;
      }
    }
  }

  async #closeDoors(): Promise<void> {
    const servers = this.#servers;
    this.#servers = [];
    this.#hosts.clear();
    for (const server of servers) {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    }
  }
}

/** This machine's own IPv4 addresses on real networks. */
function ownAddresses(): string[] {
  return Object.values(networkInterfaces())
    .flat()
    .filter((face) => face !== undefined && face.family === 'IPv4' && !face.internal)
    .map((face) => face!.address);
}

function hashOf(secret: string): string {
  return createHash('sha256').update(secret).digest('hex');
}

/** `scrypt$salt$key`, both in base64url. */
export async function hashPassphrase(passphrase: string): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(passphrase.normalize('NFKC'), salt, KEY_BYTES, COST);
  return `scrypt$${salt.toString('base64url')}$${key.toString('base64url')}`;
}

export async function isPassphrase(passphrase: string, kept: string): Promise<boolean> {
  const [, salt, key] = kept.split('$');
  if (!salt || !key) return false;
  const expected = Buffer.from(key, 'base64url');
  const got = await derive(passphrase.normalize('NFKC'), Buffer.from(salt, 'base64url'), KEY_BYTES, COST);
  return expected.length === got.length && timingSafeEqual(expected, got);
}

/** A word for a device from what its browser says of itself. */
export function deviceWords(userAgent: string): string {
  const kind = [
    [/iPad|Tablet/, 'Tablet'],
    [/iPhone|Android|Mobile/, 'Phone'],
  ].find(([pattern]) => (pattern as RegExp).test(userAgent))?.[1];
  return (kind as string | undefined) ?? 'Computer';
}
