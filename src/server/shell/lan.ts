import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { Socket } from 'node:net';
import type { TLSSocket } from 'node:tls';
import { hostname, networkInterfaces } from 'node:os';
import { promisify } from 'node:util';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import type { LanView } from '../../contract/shell.ts';
import { AppError } from '../app-error.ts';
import type { Clock } from '../clock.ts';
import type { Gate } from '../security.ts';
import type { AccessStore, LetIn } from './access-store.ts';
import type { Authority } from './authority.ts';
import { GuessLock } from './guess-lock.ts';

const derive = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt);
/** scrypt at N = 2^15, r = 8, p = 1: 32 MB and some 100 ms a try (RFC 7914; the OWASP floor for passwords). */
const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const KEY_BYTES = 32;
const COOKIE = 'frugal_sip_device';
/** A device is remembered while it comes now and then, for a year at the most. */
const UNSEEN_DAYS = 60;
const LIFETIME_DAYS = 365;
const MOST_DEVICES = 30;
const PAIRING_MINUTES = 10;
const TOUCH_EVERY_MS = 3_600_000;

/** What a device shows to be let in again. */
export type EntryCookie = {
  readonly name: string;
  readonly value: string;
  readonly maxAge: number;
  readonly secure: boolean;
};
/** Over https a cookie of its own, which browsers send over https only, and let no other host set (RFC 6265bis, `__Host-`). */
const isLocked = (request: IncomingMessage | undefined) =>
  Boolean((request?.socket as TLSSocket | undefined)?.encrypted);
const cookieName = (request: IncomingMessage | undefined) => (isLocked(request) ? `__Host-${COOKIE}` : COOKIE);
const cookieOf = (token: string, request?: IncomingMessage): EntryCookie => ({
  name: cookieName(request),
  value: token,
  maxAge: UNSEEN_DAYS * 86_400,
  secure: isLocked(request),
});
/** Where the doors with a lock stand: past the plain ones, as 443 stands past 80. */
const lockedPort = (port: number) => (port + 363 <= 65_535 ? port + 363 : port - 363);

export type LanOptions = { access: AccessStore; authority: Authority; clock: Clock; addresses?: () => string[] };

/**
 * The doors to the home network: shut until the grower sets a passphrase and opens them. They stand on this machine's own addresses, each
 * known by that address only; devices are let in with the passphrase or a code that works once, and are remembered by a hash.
 */
export class Lan implements Gate {
  readonly #access: AccessStore;
  readonly #authority: Authority;
  readonly #clock: Clock;
  readonly #addresses: () => string[];
  #servers: Server[] = [];
  #locked: Server[] = [];
  #app: FastifyInstance | undefined;
  #port = 0;
  #hosts = new Set<string>();
  #problem: string | null = null;
  #opened = '';
  #came = new WeakSet<IncomingMessage>();
  #pairing = new Map<string, number>();
  #guesses = new GuessLock();
  /** Lines open to each device, to be cut when it is shown out. */
  #lines = new Map<string, Set<Socket>>();

  constructor(options: LanOptions) {
    this.#access = options.access;
    this.#authority = options.authority;
    this.#clock = options.clock;
    this.#addresses = options.addresses ?? ownAddresses;
  }

  /** Called once the server listens on the loopback: opens the doors if they were left open. */
  async begin(app: FastifyInstance, port: number): Promise<void> {
    this.#app = app;
    this.#port = port;
    if (this.#access.now.open && this.#access.now.passphrase !== null) await this.#openDoors();
  }

  cameByNetwork(request: IncomingMessage): boolean {
    return this.#came.has(request);
  }

  hosts(): ReadonlySet<string> {
    return this.#hosts;
  }

  originOf(request: IncomingMessage): string {
    return `${isLocked(request) ? 'https' : 'http'}://${request.headers.host ?? ''}`;
  }

  deviceOf(request: FastifyRequest): string | undefined {
    const token = request.cookies[cookieName(request.raw)];
    return token === undefined ? undefined : this.#known(hashOf(token))?.tokenHash;
  }

  letIn(request: FastifyRequest): { renewed?: EntryCookie } | undefined {
    const token = request.cookies[cookieName(request.raw)] ?? '';
    const found = this.#known(hashOf(token));
    if (!found) return undefined;
    this.#noteLine(found.tokenHash, request.raw.socket);
    const now = this.#clock.now();
    const seen = { ...found, lastSeenAt: now.toISOString(), lastAddress: request.ip };
    if (
      Math.abs(now.getTime() - new Date(found.lastSeenAt).getTime()) < TOUCH_EVERY_MS &&
      found.lastAddress === request.ip
    )
      return {};
    try {
      this.#keepDevices(this.#access.now.devices.map((d) => (d.tokenHash === found.tokenHash ? seen : d)));
    } catch {
      // A full disk keeps nobody out.
    }
    return { renewed: cookieOf(token, request.raw) };
  }

  async view(here: boolean): Promise<LanView> {
    // A home network gives out new addresses now and then: the doors move along when somebody looks here.
    if (here && this.#servers.length > 0 && this.#addresses().join() !== this.#opened) await this.#openDoors();
    const { passphrase, devices } = this.#access.now;
    const trust = await this.trust();
    const newestFirst = [...devices].sort((a, b) => (a.lastSeenAt < b.lastSeenAt ? 1 : -1));
    return {
      on: this.#servers.length > 0,
      hasPassphrase: passphrase !== null,
      addresses: this.#urls(this.#servers),
      lock: trust ? { addresses: this.#urls(this.#locked), fingerprint: trust.fingerprint } : null,
      problem: this.#problem ?? this.#access.problem,
      devices: newestFirst.map((d) => ({
        id: d.tokenHash.slice(0, 16),
        device: d.device,
        startedAt: d.startedAt,
        lastSeenAt: d.lastSeenAt,
        lastAddress: here ? d.lastAddress : '',
      })),
      here,
    };
  }

  /** Opens the doors, with a new passphrase where one is given. A new passphrase shows every device out. @throws AppError `invalid-request` */
  async open(passphrase: string | null): Promise<void> {
    if (passphrase === null && this.#access.now.passphrase === null) {
      const message = 'Choose a passphrase first: without one the doors stay shut.';
      throw new AppError('invalid-request', message, { errors: [{ path: 'passphrase', message }] });
    }
    if (passphrase === null) this.#access.keep({ ...this.#access.now, open: true });
    else {
      const hash = await hashPassphrase(passphrase);
      this.#access.keep({ ...this.#access.now, passphrase: hash, open: true, devices: [] });
      this.#pairing.clear();
      for (const device of [...this.#lines.keys()]) this.#cutLines(device);
    }
    await this.#openDoors();
  }

  async shut(): Promise<void> {
    this.#access.keep({ ...this.#access.now, open: false });
    await this.#closeDoors();
    this.#problem = null;
  }

  /** Doors with a lock on the line are opened beside the plain ones, or shut. */
  async setLock(on: boolean): Promise<void> {
    this.#access.keep({ ...this.#access.now, lock: on });
    if (this.#servers.length > 0) await this.#openDoors();
  }

  /** What a phone is to trust once, and where it goes then; undefined while no door with a lock is open, so that strangers make nothing. */
  async trust(): Promise<{ certificate: string; fingerprint: string; url: string | null } | undefined> {
    if (!this.#access.now.lock || this.#locked.length === 0) return undefined;
    const now = this.#clock.now();
    return {
      certificate: await this.#authority.certificate(now, this.#addresses()),
      fingerprint: await this.#authority.fingerprint(now),
      url: this.#urls(this.#locked)[0] ?? null,
    };
  }

  /** A device that is shown out is out at once: what it listens to is cut. */
  showOut(device: string): void {
    const shown = this.#access.now.devices.filter((d) => d.tokenHash.startsWith(device));
    this.#keepDevices(this.#access.now.devices.filter((d) => !shown.includes(d)));
    for (const { tokenHash } of shown) this.#cutLines(tokenHash);
  }

  /** An address to open on the phone that lets it in, once, within ten minutes. The key stands behind the #, which no server is sent. */
  pairing(lock = false): { url: string; until: string } {
    const [url] = this.#urls(lock ? this.#locked : this.#servers);
    if (this.#servers.length === 0 || url === undefined)
      throw new AppError('invalid-request', 'Open the home network first.');
    const key = randomBytes(18).toString('base64url');
    const now = this.#clock.now().getTime();
    // One code at a time: a new one ends those shown before.
    this.#pairing.clear();
    const until = now + PAIRING_MINUTES * 60_000;
    this.#pairing.set(hashOf(key), until);
    return { url: `${url}/enter#${key}`, until: new Date(until).toISOString() };
  }

  /**
   * Lets a device in. @returns the cookie to set
   * @throws AppError `wrong-passphrase`, `too-many-requests` while the way in is shut
   */
  async enter(
    proof: { passphrase: string } | { key: string },
    from: string,
    device: string,
    request?: IncomingMessage,
  ): Promise<EntryCookie> {
    if ('key' in proof) this.#requireCode(proof.key);
    else await this.#requirePassphrase(proof.passphrase, from);
    const token = randomBytes(KEY_BYTES).toString('base64url');
    const at = this.#clock.now().toISOString();
    const entered = {
      tokenHash: hashOf(token),
      device: device.slice(0, 40),
      startedAt: at,
      lastSeenAt: at,
      lastAddress: from,
    };
    const others = this.#access.now.devices
      .filter((d) => this.#isAlive(d))
      .sort((a, b) => (a.lastSeenAt < b.lastSeenAt ? 1 : -1));
    this.#keepDevices([entered, ...others].slice(0, MOST_DEVICES));
    return cookieOf(token, request);
  }

  async end(): Promise<void> {
    await this.#closeDoors();
  }

  #requireCode(key: string): void {
    const hash = hashOf(key);
    const until = this.#pairing.get(hash);
    this.#pairing.delete(hash);
    if (until === undefined || until < this.#clock.now().getTime())
      throw new AppError(
        'wrong-passphrase',
        'That code was used already, or is older than ten minutes. Show a new one on the computer.',
      );
  }

  async #requirePassphrase(passphrase: string, from: string): Promise<void> {
    const { passphrase: kept, devices } = this.#access.now;
    const known = devices.some((d) => d.lastAddress === from && this.#isAlive(d));
    const taken = this.#guesses.take(from, known, this.#clock.now().getTime());
    if ('waitSeconds' in taken)
      throw new AppError(
        'too-many-requests',
        `Too many tries. Wait ${taken.waitSeconds} second${taken.waitSeconds === 1 ? '' : 's'}, then try once more; or have the computer show its code, which lets you in at once.`,
      );
    let right = false;
    try {
      right = kept !== null && (await isPassphrase(passphrase, kept));
    } finally {
      taken.settle(right);
    }
    // Changed while it was looked at: what was right is so no more.
    if (!right || kept !== this.#access.now.passphrase)
      throw new AppError('wrong-passphrase', 'That is not the passphrase. Mind capitals and spaces.');
  }

  #known(tokenHash: string): LetIn | undefined {
    const found = this.#access.now.devices.find((d) => d.tokenHash === tokenHash);
    return found && this.#isAlive(found) ? found : undefined;
  }

  #isAlive({ startedAt, lastSeenAt }: LetIn): boolean {
    const daysSince = (at: string) => (this.#clock.now().getTime() - new Date(at).getTime()) / 86_400_000;
    return daysSince(lastSeenAt) <= UNSEEN_DAYS && daysSince(startedAt) <= LIFETIME_DAYS;
  }

  #keepDevices(devices: readonly LetIn[]): void {
    this.#access.keep({ ...this.#access.now, devices: [...devices] });
  }

  #noteLine(device: string, socket: Socket): void {
    const lines = this.#lines.get(device) ?? new Set();
    if (lines.has(socket)) return;
    this.#lines.set(device, lines.add(socket));
    socket.once('close', () => {
      lines.delete(socket);
      if (lines.size === 0 && this.#lines.get(device) === lines) this.#lines.delete(device);
    });
  }

  #cutLines(device: string): void {
    for (const socket of this.#lines.get(device) ?? []) socket.destroy();
    this.#lines.delete(device);
  }

  #urls(servers: readonly Server[]): string[] {
    return servers.map((server) => {
      const address = server.address();
      return typeof address === 'object' && address
        ? `${servers === this.#locked ? 'https' : 'http'}://${address.address}:${address.port}`
        : '';
    });
  }

  async #openDoors(): Promise<void> {
    await this.#closeDoors();
    const app = this.#app;
    if (!app) return;
    this.#problem = null;
    const addresses = this.#addresses();
    this.#opened = addresses.join();
    if (addresses.length === 0)
      this.#problem = 'This computer is on no home network just now. Join one, then open it again.';
    const answer = (request: IncomingMessage, response: ServerResponse) => {
      this.#came.add(request);
      app.routing(request, response);
    };
    for (const address of addresses) await this.#openDoor(createServer(answer), address, this.#port, this.#servers);
    if (!this.#access.now.lock || addresses.length === 0) return;
    const certificate = await this.#authority.certificateFor(addresses, this.#clock.now());
    for (const address of addresses)
      await this.#openDoor(createSecureServer(certificate, answer), address, lockedPort(this.#port), this.#locked);
  }

  async #openDoor(server: Server, address: string, port: number, into: Server[]): Promise<void> {
    try {
      await new Promise<void>((resolve, reject) => {
        server.once('error', reject);
        server.listen(port, address, resolve);
      });
      into.push(server);
      for (const name of [address, hostname(), `${hostname()}.local`]) this.#hosts.add(`${name}:${port}`);
    } catch (error) {
      this.#problem = `The address ${address}:${port} could not be opened (${(error as { code?: string }).code ?? 'error'}). Another program may hold the port.`;
    }
  }

  async #closeDoors(): Promise<void> {
    const servers = [...this.#servers, ...this.#locked];
    this.#servers = [];
    this.#locked = [];
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
