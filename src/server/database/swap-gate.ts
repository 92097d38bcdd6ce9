/** Longer than any answer takes to read; what reads on after it is told to come again. */
const LONGEST_READ_MS = 2_000;

/**
 * Looks at the collection pass freely; while its file is being swapped new ones wait at the gate, and the swap waits for those inside to come out.
 */
export class SwapGate {
  #inside = 0;
  #opened: Promise<void> | undefined;
  #open: (() => void) | undefined;
  #lastOut: (() => void) | undefined;

  /** Waits while the file is being swapped. @returns to be called once the look is over; twice does no harm */
  async enter(): Promise<() => void> {
    while (this.#opened) await this.#opened;
    this.#inside++;
    let out = false;
    return () => {
      if (out) return;
      out = true;
      if (--this.#inside === 0) this.#lastOut?.();
    };
  }

  /** Carries `swap` out with nobody inside. */
  async shutFor<T>(swap: () => Promise<T>): Promise<T> {
    this.#opened = new Promise((resolve) => (this.#open = resolve));
    try {
      if (this.#inside > 0) {
        let timer: NodeJS.Timeout | undefined;
        await Promise.race([
          new Promise<void>((resolve) => (this.#lastOut = resolve)),
          new Promise<void>((resolve) => (timer = setTimeout(resolve, LONGEST_READ_MS))),
        ]);
        clearTimeout(timer);
        this.#lastOut = undefined;
      }
      return await swap();
    } finally {
      this.#opened = undefined;
      this.#open?.();
    }
  }
}
