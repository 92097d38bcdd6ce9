import { describe, expect, it } from 'vitest';
import { createClock, createTimers } from './clock.ts';
import { whenNow } from './when.ts';
import { usualSettings } from './collection/settings.ts';

describe('the clock', () => {
  it('runs on from where it is set, and refuses what is not an instant', () => {
    const clock = createClock('2026-11-25T09:00:00Z');
    const first = clock.now().getTime();
    expect(Math.abs(first - Date.parse('2026-11-25T09:00:00Z'))).toBeLessThan(60_000);
    expect(clock.now().getTime()).toBeGreaterThanOrEqual(first);
    expect(() => createClock('Wednesday')).toThrow(/Write it as 2026-11-25T09:00:00Z/);
  });
  it('gives the grower’s own day with the instant', () => {
    const at = (instant: string, zone: string) =>
      whenNow({
        clock: { now: () => new Date(instant) },
        settings: { ...usualSettings(), zone },
      }).localDate;
    expect(at('2026-11-25T23:59:00Z', 'Europe/London')).toBe('2026-11-25');
    expect(at('2026-11-25T23:59:00Z', 'Pacific/Auckland')).toBe('2026-11-26');
  });
});

describe('timers', () => {
  it('wait as long as their pace says, and not at all once called off', async () => {
    await createTimers(0).wait(60_000);
    const off = new AbortController();
    const waiting = createTimers(1).wait(60_000, off.signal);
    off.abort();
    await waiting;
  });
});
