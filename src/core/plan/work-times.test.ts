import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mixMinutes, potMinutes, type LoggedAct } from './work-times.ts';

const pots = (...at: number[]): LoggedAct[] => at.map((atMin) => ({ atMin, pot: true }));
/** A day on which every pot took so long. */
const day = (n: number, each: number) => pots(...Array.from({ length: n }, (_, i) => 600 + i * each));

describe('minutes of a pot', () => {
  it('are what lies between two of them', () => {
    expect(potMinutes([day(7, 3), day(7, 3)])).toEqual({ minutes: 3, of: 12 });
  });
  it('are not known of one day, nor of a few pots', () => {
    expect(potMinutes([day(20, 3)])).toBeNull();
    expect(potMinutes([day(4, 3), day(4, 3)])).toBeNull();
    expect(potMinutes([])).toBeNull();
  });
  it('are shared by pots that were noted in one go', () => {
    const noted = [...pots(600), ...pots(612, 612.05, 612.1, 612.1)];
    expect(potMinutes([noted, noted, noted])).toEqual({ minutes: 3, of: 12 });
  });
  it('leave out what was interrupted, by other work or by nothing', () => {
    const mixed: LoggedAct = { atMin: 618.5, pot: false };
    const broken = [...day(7, 3), mixed, ...pots(635, 638), ...pots(700, 703)];
    expect(potMinutes([broken, broken])).toEqual({ minutes: 3, of: 16 });
  });
  it('leave out a long talk in the middle', () => {
    const talk = [...day(7, 2), ...pots(612 + 19)];
    expect(potMinutes([talk, talk])).toEqual({ minutes: 2, of: 12 });
  });
  it('do not depend on the order they are told in, and never leave the range of what was logged', () => {
    const gaps = fc.array(fc.double({ min: 2, max: 7, noNaN: true }), { minLength: 6, maxLength: 20 });
    fc.assert(
      fc.property(gaps, (list) => {
        let at = 500;
        const acts = [...pots(at), ...list.flatMap((gap) => pots((at += gap)))];
        const found = potMinutes([acts, acts])!;
        expect(potMinutes([[...acts].reverse(), acts])).toEqual(found);
        expect(found.minutes).toBeGreaterThanOrEqual(Math.min(...list) - 0.26);
        expect(found.minutes).toBeLessThanOrEqual(Math.max(...list) + 0.26);
      }),
    );
  });
});

describe('minutes of a mix', () => {
  it('are those of the usual ones: one left standing until the afternoon does not count', () => {
    expect(mixMinutes([12, 14, 13, 13, 400, 0])).toEqual({ minutes: 13, of: 4 });
    expect(mixMinutes([12, 14, 13])).toBeNull();
  });
});
