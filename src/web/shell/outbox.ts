import { OfflineError, ProblemError, request } from './api.ts';

/** An act of the grower on its way to the server. The id makes a second sending harmless. */
export type Act = { readonly id: string; readonly url: string; readonly body: unknown; readonly words: string; readonly subject?: string };
/** An act the server refused when it was sent again later. */
export type Refused = { readonly act: Act; readonly reason: string };
export type OutboxState = { readonly waiting: readonly Act[]; readonly refused: readonly Refused[] };
export type Sent<T> = { readonly kind: 'done'; readonly value: T } | { readonly kind: 'waiting' };

type Storage = Pick<globalThis.Storage, 'getItem' | 'setItem'>;

/**
 * The durable outbox: an act that the server could not be asked about stays in this browser and is sent again, in order, until it
 * answers. Refusals are shown, never dropped in silence.
 */
export class Outbox {
  #state: OutboxState = { waiting: [], refused: [] };
  #listeners = new Set<() => void>();
  #sending: Promise<boolean> | undefined;
  readonly #storage: Storage;
  readonly #key: string;
  readonly #send: typeof request;

  constructor(storage: Storage, key = 'frugal-sip-outbox', send: typeof request = request) {
    this.#storage = storage;
    this.#key = key;
    this.#send = send;
    const kept = storage.getItem(key);
    if (kept) this.#state = JSON.parse(kept) as OutboxState;
  }

  get state(): OutboxState {
    return this.#state;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** Sends an act now, or keeps it when nobody answers (or others wait before it). @throws ProblemError when refused */
  async put<T>(act: Act): Promise<Sent<T>> {
    if (this.#state.waiting.length > 0) {
      this.#set({ ...this.#state, waiting: [...this.#state.waiting, act] });
      return { kind: 'waiting' };
    }
    try {
      return { kind: 'done', value: await this.#send<T>('PUT', act.url, act.body) };
    } catch (error) {
      if (!(error instanceof OfflineError)) throw error;
      this.#set({ ...this.#state, waiting: [...this.#state.waiting, act] });
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
    const waiting = this.#state.waiting.filter((act) => act.id !== id);
    if (waiting.length === this.#state.waiting.length) return false;
    this.#set({ ...this.#state, waiting });
    return true;
  }

  dismiss(id: string): void {
    this.#set({ ...this.#state, refused: this.#state.refused.filter((r) => r.act.id !== id) });
  }

  async #flush(): Promise<boolean> {
    let settled = false;
    for (let act = this.#state.waiting[0]; act; act = this.#state.waiting[0]) {
      const { id } = act;
      try {
        await this.#send('PUT', act.url, act.body);
        this.#set({ ...this.#state, waiting: this.#state.waiting.filter((a) => a.id !== id) });
      } catch (error) {
        if (error instanceof OfflineError) return settled;
        const reason = error instanceof ProblemError ? error.problem.detail : 'It could not be carried out.';
        this.#set({ waiting: this.#state.waiting.filter((a) => a.id !== id), refused: [...this.#state.refused, { act, reason }] });
      }
      settled = true;
    }
    return settled;
  }

  #set(state: OutboxState): void {
    this.#state = state;
    this.#storage.setItem(this.#key, JSON.stringify(state));
    for (const listener of this.#listeners) listener();
  }
}
