/** Wrong passphrases: five in a row from one address shut the way in for it; thirty from anywhere shut it for addresses never let in. */
const TRIES = 5;
const TRIES_FROM_ANYWHERE = 30;
const FIRST_WAIT_MS = 60_000;
const LONGEST_DOUBLING = 8;
/** Slow hashes under way at once, in all: each takes 32 MB and a core for a tenth of a second. */
const AT_ONCE = 2;
const ADDRESSES_KEPT = 1000;

type Tries = { wrong: number; waits: number; shutAt: number; shutUntil: number };
export type Refusal = { readonly waitSeconds: number };
/** `settle` is told how the try came out. */
export type Taken = { readonly settle: (right: boolean) => void };

/**
 * Tries at the passphrase. Every try is counted wrong before it is looked at, one at a time an address, so that a hundred at once are one. Whoever guesses shuts
 * out himself: an address that was let in before has a count of its own, and the code shown on the computer is never counted.
 */
export class GuessLock {
  #tries = new Map<string, Tries>();
  #underWay = new Set<string>();

  /** @param known a device was let in from this address before @param nowMs any clock; one that jumps back opens what it shut */
  take(from: string, known: boolean, nowMs: number): Taken | Refusal {
    for (const who of known ? [from] : [from, ANYWHERE]) {
      const { shutAt = 0, shutUntil = 0 } = this.#tries.get(who) ?? {};
      if (nowMs >= shutAt && nowMs < shutUntil) return { waitSeconds: Math.ceil((shutUntil - nowMs) / 1000) };
    }
    if (this.#underWay.has(from) || this.#underWay.size >= AT_ONCE) return { waitSeconds: 1 };
    this.#underWay.add(from);
    this.#count(from, TRIES, nowMs);
    if (!known) this.#count(ANYWHERE, TRIES_FROM_ANYWHERE, nowMs);
    return {
      settle: (right) => {
        this.#underWay.delete(from);
        if (!right) return;
        this.#tries.delete(from);
        if (!known) this.#takeBack(ANYWHERE);
      },
    };
  }

  #count(who: string, most: number, nowMs: number): void {
    const tries = this.#tries.get(who) ?? { wrong: 0, waits: 0, shutAt: 0, shutUntil: 0 };
    tries.wrong++;
    if (tries.wrong >= most) {
      tries.shutAt = nowMs;
      tries.shutUntil = nowMs + FIRST_WAIT_MS * 2 ** Math.min(tries.waits++, LONGEST_DOUBLING);
      tries.wrong = 0;
    }
    // At the end of the line again, so that the one not seen longest is the first to be forgotten.
    this.#tries.delete(who);
    this.#tries.set(who, tries);
    if (this.#tries.size > ADDRESSES_KEPT) this.#tries.delete([...this.#tries.keys()].find((key) => key !== ANYWHERE)!);
  }

  /** A right one is no wrong one: its count, and the shutting it may have caused, go back. */
  #takeBack(who: string): void {
    const tries = this.#tries.get(who);
    if (!tries) return;
    if (tries.wrong > 0) tries.wrong--;
    else tries.shutUntil = 0;
  }
}

const ANYWHERE = '*';
