/** The one source of "now" and of waiting; injected everywhere so that tests pin the day and the demo never depends on today. */
export interface Clock {
  now(): Date;
}
export interface Timers {
  wait(milliseconds: number, signal?: AbortSignal): Promise<void>;
}

/** Real time, or, from `startAt` on, time that runs on from that instant. */
export function createClock(startAt?: string): Clock {
  if (!startAt) return { now: () => new Date() };
  const start = new Date(startAt);
  if (Number.isNaN(start.getTime())) throw new Error(`FRUGAL_SIP_NOW is not an instant: ${startAt}. Write it as 2026-11-25T09:00:00Z.`);
  const began = process.hrtime.bigint();
  return { now: () => new Date(start.getTime() + Number((process.hrtime.bigint() - began) / 1_000_000n)) };
}

/** Timers that wait `pace` times as long as asked: 1 is real, 0 is at once. */
export function createTimers(pace = 1): Timers {
  return {
    wait: (milliseconds, signal) =>
      new Promise((resolve) => {
        const stop = () => {
          clearTimeout(timer);
          signal?.removeEventListener('abort', stop);
          resolve();
        };
        const timer = setTimeout(stop, milliseconds * pace);
        signal?.addEventListener('abort', stop);
      }),
  };
}
