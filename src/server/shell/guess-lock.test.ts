import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { GuessLock } from './guess-lock.ts';

const settle = (lock: GuessLock, from: string, now: number, right = false, known = false): boolean => {
  const taken = lock.take(from, known, now);
  if ('waitSeconds' in taken) return false;
  taken.settle(right);
  return true;
};

describe('tries at the passphrase', () => {
  it('are one at a time an address, and two at a time in all', () => {
    const lock = new GuessLock();
    const first = lock.take('a', false, 0);
    expect(lock.take('a', false, 0)).toEqual({ waitSeconds: 1 });
    lock.take('b', false, 0);
    expect(lock.take('c', false, 0)).toEqual({ waitSeconds: 1 });
    if ('settle' in first) first.settle(false);
    expect(lock.take('c', false, 0)).toHaveProperty('settle');
  });
  it('wrong ones from anywhere shut out addresses never let in, not those known', () => {
    const lock = new GuessLock();
    for (let i = 0; i < 30; i++) expect(settle(lock, `10.0.0.${i}`, i)).toBe(true);
    expect(settle(lock, '10.0.1.1', 40)).toBe(false);
    expect(settle(lock, '10.0.1.2', 40, true, true)).toBe(true);
    expect(settle(lock, '10.0.1.1', 61_000)).toBe(true);
  });
  it('a right one takes its own counting back, also where it was the last before the way is shut', () => {
    const lock = new GuessLock();
    for (let i = 0; i < 4; i++) settle(lock, 'a', i);
    expect(settle(lock, 'a', 5, true)).toBe(true);
    expect(settle(lock, 'a', 6)).toBe(true);
  });
  it('however many and whenever: an address has five looked at before it waits, and each wait is longer', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 20_000 }), { minLength: 50, maxLength: 300 }), (gaps) => {
        const lock = new GuessLock();
        let now = 0;
        const looked: number[] = [];
        for (const gap of gaps) {
          now += gap;
          if (settle(lock, 'guesser', now)) looked.push(now);
        }
        // Between the first of a run of five and the first of the next lies at least the wait, which doubles.
        for (let i = 5, wait = 60_000; i < looked.length; i += 5, wait *= 2)
          expect(looked[i]! - looked[i - 1]!).toBeGreaterThanOrEqual(Math.min(wait, 60_000 * 2 ** 8));
      }),
    );
  });
  it('a clock put back opens what it shut', () => {
    const lock = new GuessLock();
    for (let i = 0; i < 5; i++) settle(lock, 'a', 86_400_000);
    expect(settle(lock, 'a', 86_400_001)).toBe(false);
    expect(settle(lock, 'a', 0)).toBe(true);
  });
  it('from thousands of addresses do not fill the memory', () => {
    const lock = new GuessLock();
    for (let i = 0; i < 5000; i++) settle(lock, `address ${i}`, i * 100_000);
    expect(settle(lock, 'another', 5001 * 100_000, true, true)).toBe(true);
  });
});
