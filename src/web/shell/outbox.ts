import { OfflineError, ProblemError, request } from './api.ts';

/** An act of the grower on its way to the server. The id makes a second sending harmless. */
export type Act = {
  readonly id: string;
  readonly url: string;
  readonly body: unknown;
  readonly words: string;
  readonly subject?: string;
  /** Several, where one act is about many. */
  readonly subjects?: readonly string[];
};
/** An act the server refused when it was sent again later. */
export type Refused = { readonly act: Act; readonly reason: string };
export type OutboxState = {
  readonly waiting: readonly Act[];
  readonly refused: readonly Refused[];
  /** The browser could not keep an act through a reload (storage full or forbidden): it is only in this page. */
  readonly fragile: boolean;
  /** Why they wait, in the server's own words, where it said so: a full disk, a file held by another program. */
  readonly why: string | null;
};
export type Sent<T> = { readonly kind: 'done'; readonly value: T } | { readonly kind: 'waiting' };

type Storage = Pick<globalThis.Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;
type Entry = {
  readonly act: Act;
  readonly status: 'sending' | 'waiting' | 'refused';
  readonly reason?: string;
  readonly at: number;
  readonly order: string;
};

/** An act some page began to send and never heard of is sent again after so long: that page was closed, or the machine went down. */
const ABANDONED_MS = 10_000;
const OLD_KEY = 'frugal-sip-outbox';

/**
 * The durable outbox. An act is written down before it is sent and struck out when the server has answered; what nobody answered stays in
 * this browser and is sent again, in order. Every act has an entry of its own, so that several tabs keep each other's. Refusals are shown,
 * never dropped in silence.
 */
export class Outbox {
  #state: OutboxState = { waiting: [], refused: [], fragile: false, why: null };
  #why: string | null = null;
  #entries = new Map<string, Entry>();
  #listeners = new Set<() => void>();
  #sending: Promise<boolean> | undefined;
  #mine = new Set<string>();
  #count = 0;
  #fragile = false;
  readonly #storage: Storage;
  readonly #prefix: string;
  readonly #send: typeof request;
  readonly #now: () => number;

  constructor(storage: Storage, key = 'frugal-sip-act', send: typeof request = request, now: () => number = Date.now) {
    this.#storage = storage;
    this.#prefix = `${key}:`;
    this.#send = send;
    this.#now = now;
    this.#adoptOld();
    this.refresh();
  }

  get state(): OutboxState {
    return this.#state;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** Reads what every tab of this browser has written down. Called when another tab changed it, and now and then. */
  refresh = (): void => {
    const kept = new Map<string, Entry>();
    for (let i = 0; i < this.#storage.length; i++) {
      const key = this.#storage.key(i);
      const entry = key?.startsWith(this.#prefix) ? readEntry(this.#storage.getItem(key)) : undefined;
      if (entry) kept.set(entry.act.id, entry);
    }
    // What could not be stored lives in this page alone.
    if (this.#fragile)
      for (const [id, entry] of this.#entries) if (!kept.has(id) && this.#mine.has(id)) kept.set(id, entry);
    for (const [id, entry] of kept)
      if (entry.status === 'sending' && !this.#mine.has(id) && this.#now() - entry.at > ABANDONED_MS)
        kept.set(id, { ...entry, status: 'waiting' });
    this.#entries = kept;
    this.#publish();
  };

  /** Sends an act now, or keeps it when nobody answers (or others wait before it). @throws ProblemError when refused */
  async put<T>(act: Act): Promise<Sent<T>> {
    this.#mine.add(act.id);
    const entry: Entry = {
      act,
      status: 'sending',
      at: this.#now(),
      order: `${String(this.#now()).padStart(15, '0')}-${String(this.#count++).padStart(6, '0')}`,
    };
    if (this.#state.waiting.length > 0) {
      this.#write({ ...entry, status: 'waiting' });
      return { kind: 'waiting' };
    }
    this.#write(entry);
    try {
      const value = await this.#send<T>('PUT', act.url, act.body);
      this.#strike(act.id);
      return { kind: 'done', value };
    } catch (error) {
      if (!(error instanceof OfflineError)) {
        this.#strike(act.id);
        throw error;
      }
      this.#why = reasonOf(error);
      this.#write({ ...entry, status: 'waiting' });
      return { kind: 'waiting' };
    }
  }

  /** Sends what waits, in order, until done or nobody answers. @returns whether anything was settled */
  flush(): Promise<boolean> {
    this.#sending ??= this.#flush().finally(() => (this.#sending = undefined));
    return this.#sending;
  }

  /** Takes an act back that has not left yet. @returns false when it has */
  withdraw(id: string): boolean {
    if (this.#entries.get(id)?.status !== 'waiting') return false;
    this.#strike(id);
    return true;
  }

  dismiss(id: string): void {
    if (this.#entries.get(id)?.status === 'refused') this.#strike(id);
  }

  /** Sends a refused act once more, after the grower mended what stood in its way. */
  tryAgain(id: string): void {
    const entry = this.#entries.get(id);
    if (entry?.status !== 'refused') return;
    // Whoever sends it again has read what another device did meanwhile: it is to be kept as well.
    const url = entry.act.url.replace(/\?after=[^&]*$/, '');
    this.#write({ ...entry, act: { ...entry.act, url }, status: 'waiting' });
  }

  async #flush(): Promise<boolean> {
    let settled = false;
    for (let act = this.#state.waiting[0]; act; act = this.#state.waiting[0]) {
      const { id } = act;
      try {
        await this.#send('PUT', act.url, act.body);
        this.#strike(id);
      } catch (error) {
        if (error instanceof OfflineError) {
          this.#why = reasonOf(error);
          this.#publish();
          return settled;
        }
        const reason = error instanceof ProblemError ? error.problem.detail : 'It could not be carried out.';
        const entry = this.#entries.get(id);
        if (entry) this.#write({ ...entry, status: 'refused', reason });
      }
      settled = true;
    }
    return settled;
  }

  /** Acts kept by the first version, which wrote them all under one name. */
  #adoptOld(): void {
    const old = this.#storage.getItem(OLD_KEY);
    if (old === null) return;
    try {
      const { waiting } = JSON.parse(old) as { waiting: Act[] };
      for (const [i, act] of waiting.entries())
        this.#write({ act, status: 'waiting', at: 0, order: `${'0'.repeat(15)}-${String(i).padStart(6, '0')}` });
    } catch {
      // Broken beyond reading: there is nothing in it to send.
    }
    this.#storage.removeItem(OLD_KEY);
  }

  #write(entry: Entry): void {
    this.#entries.set(entry.act.id, entry);
    try {
      this.#storage.setItem(`${this.#prefix}${entry.act.id}`, JSON.stringify(entry));
    } catch {
      this.#fragile = true;
    }
    this.#publish();
  }

  #strike(id: string): void {
    this.#entries.delete(id);
    this.#mine.delete(id);
    this.#storage.removeItem(`${this.#prefix}${id}`);
    this.#publish();
  }

  #publish(): void {
    const inOrder = [...this.#entries.values()].sort((a, b) => (a.order < b.order ? -1 : 1));
    const waiting = inOrder.filter((e) => e.status === 'waiting').map((e) => e.act);
    const refused = inOrder.filter((e) => e.status === 'refused').map((e) => ({ act: e.act, reason: e.reason ?? '' }));
    const fragile = this.#fragile && waiting.length > 0;
    const why = waiting.length > 0 ? this.#why : null;
    const same = (a: readonly unknown[], b: readonly unknown[]) =>
      a.length === b.length && JSON.stringify(a) === JSON.stringify(b);
    if (
      same(waiting, this.#state.waiting) &&
      same(refused, this.#state.refused) &&
      fragile === this.#state.fragile &&
      why === this.#state.why
    )
      return;
    this.#state = { waiting, refused, fragile, why };
    for (const listener of this.#listeners) listener();
  }
}

const reasonOf = (error: OfflineError) => (error.answered ? error.message : null);

function readEntry(text: string | null): Entry | undefined {
  try {
    const entry = JSON.parse(text ?? '') as Entry;
    return entry.act.id && entry.act.url ? entry : undefined;
  } catch {
    return undefined;
  }
}
