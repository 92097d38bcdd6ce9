import { describe, expect, it } from 'vitest';
import type { PotAsk, ReadState } from '../../core/what-to-read/index.ts';
import type { PotState } from '../collection/index.ts';
import { readAsk } from './read-words.ts';

const pot = {
  due: { dueOn: '2026-11-25', daysLate: 0 },
  watering: { everyDays: 7 },
} as Pick<PotState, 'due' | 'watering'>;
const state = (more: Partial<ReadState> = {}): ReadState => ({
  everRead: 9,
  readInClay: 9,
  visits: 12,
  unread: 1,
  sinceSurprise: undefined,
  lastOff: 0.3,
  foreseen: { middle: 6.4, sd: 0.2 },
  limits: [5.2, 7],
  ...more,
});
const told = (
  ask: Partial<PotAsk> & { asked: PotAsk['asked']; turnIn?: number },
  of: Partial<ReadState> = {},
  hasPen = true,
) =>
  readAsk(
    pot,
    'ph',
    { state: state(of), ask: { missed: false, never: false, worth: 1, ...ask } as PotAsk, hasPen },
    0.5,
  );

describe('an ask in words', () => {
  it('that may be left says what is foreseen, since when it is unread, and the day of its turn', () => {
    expect(told({ asked: null, turnIn: 2 })).toMatchObject({
      words: 'Leave it: 6.1 to 6.7 foreseen, not read last time; its turn is Wed 9 Dec.',
      short: '6.1 to 6.7 foreseen; its turn is 9 Dec',
      turnOn: '2026-12-09',
    });
  });
  it('near a limit, or past it, names the one it is', () => {
    const words = (middle: number) => told({ asked: 'near' }, { foreseen: { middle, sd: 0.2 } }).words;
    expect(words(6.9)).toBe('Not read last time, and near pH 7.0.');
    expect(words(7.8)).toBe('Not read last time, and past pH 7.0.');
    expect(words(4.7)).toBe('Not read last time, and past pH 5.2.');
  });
  it('where nothing can be foretold that is the reason, not that it was never read', () => {
    const blind = { foreseen: undefined };
    expect(told({ asked: 'first' }, { ...blind, everRead: 2 }).words).toMatch(/^Little is known of it yet/);
    expect(told({ asked: 'first' }, blind).words).toBe(
      'Nothing can be foretold of it: the pH of what it was filled with is not known.',
    );
    expect(told({ asked: 'first' }, blind).odd).toBeNull();
  });
  it('never asked says whose doing that is', () => {
    const never = { asked: null, turnIn: Infinity, never: true };
    expect(told(never).words).toBe('Never asked: you said so.');
    expect(told(never, {}, false)).toMatchObject({ words: 'There is no pen for it.', turnOn: null, never: true });
  });
  it('a strength is told on the grower’s pen, and so are the bounds of what is odd', () => {
    const ask = { asked: null, turnIn: 1, missed: false, never: false, worth: 0 } as const;
    const foreseen = { middle: Math.log(280), sd: 0.1 };
    const { words, odd } = readAsk(pot, 'ppm', { state: state({ foreseen }), ask, hasPen: true }, 0.5);
    expect(words).toMatch(/^Leave it: 119 to 165 foreseen/);
    expect(odd!.below).toBeCloseTo(140 * Math.exp(-0.26), 3);
    expect(odd!.above).toBeCloseTo(140 * Math.exp(0.26), 3);
  });
});
