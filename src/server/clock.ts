import { TZDate } from '@date-fns/tz';
import { addDays, set } from 'date-fns';

/** The one source of "now" and of waiting; injected everywhere so that tests pin the day and the demo never depends on today. */
export interface Clock {
  now(): Date;
}
/** A clock that can be put forward: the demo's "next day". */
export interface MovableClock extends Clock {
  advance(milliseconds: number): void;
}
export interface Timers {
  wait(milliseconds: number, signal?: AbortSignal): Promise<void>;
}

/** Real time, or, from `startAt` on, time that runs on from that instant. */
export function createClock(startAt?: string): MovableClock {
  let ahead = 0;
  const advance = (milliseconds: number) => {
    ahead += milliseconds;
  };
  if (!startAt) return { now: () => new Date(Date.now() + ahead), advance };
  const start = new Date(startAt);
  if (Number.isNaN(start.getTime()))
    throw new Error(`FRUGAL_SIP_NOW is not an instant: ${startAt}. Write it as 2026-11-25T09:00:00Z.`);
  const began = process.hrtime.bigint();
  return {
    now: () => new Date(start.getTime() + ahead + Number((process.hrtime.bigint() - began) / 1_000_000n)),
    advance,
  };
}

/** Nine in the morning of the day after, by the grower's zone. */
export function nextMorning(now: Date, zone: string): Date {
  return new Date(
    set(addDays(new TZDate(now.getTime(), zone), 1), { hours: 9, minutes: 0, seconds: 0, milliseconds: 0 }).getTime(),
  );
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
