import { describe, expect, it } from 'vitest';
import { expectOldReservoir, reservoirNow, type PouredAndCameOut } from './index.ts';

const week = (cameOutEcUsCm: number | undefined, cameOutPh: number | undefined, leftMl?: number): PouredAndCameOut => ({
  pouredEcUsCm: 200,
  pouredPh: 5.6,
  pouredMl: 250,
  cameOutEcUsCm,
  cameOutPh,
  leftMl,
  days: 7,
});

describe('what the old reservoir will read', () => {
  it('follows this pot’s own last three intervals', () => {
    const expected = expectOldReservoir(
      [week(900, 9, 10), week(240, 6.2, 75), week(260, 6.4, 40), week(300, 6.5, 40)],
      { ecUsCm: 210, ph: 5.7, volumeMl: 250 },
      7,
    );
    expect(expected.ecUsCm).toBeCloseTo(210 * 1.3, 9);
    expect(expected.ph).toBeCloseTo(5.7 + 0.8, 9);
    expect(expected.leftMl).toBeCloseTo(40, 9);
  });
  it('invents nothing for a pot never read', () => {
    expect(expectOldReservoir([week(undefined, undefined)], { ecUsCm: 200, ph: 5.6, volumeMl: 250 }, 7)).toEqual({});
    expect(expectOldReservoir([], { ecUsCm: 200 }, 7)).toEqual({});
  });
  it('skips visits without a reading rather than counting them as zero', () => {
    expect(expectOldReservoir([week(240, 6.2), week(undefined, undefined)], { ecUsCm: 200 }, 7).ecUsCm).toBeCloseTo(240, 9);
  });
});

describe('how a reservoir stands now', () => {
  it('is full when filled, and on its way by its history', () => {
    const history = [week(300, 6.6, 75), week(300, 6.6, 75)];
    const poured = { ecUsCm: 200, ph: 5.6, volumeMl: 250 };
    expect(reservoirNow(expectOldReservoir(history, poured, 0), poured, 0, 7, 260, 200)).toMatchObject({ ratio: 1, ph: 5.6, levelIsGuess: false });
    const due = reservoirNow(expectOldReservoir(history, poured, 7), poured, 7, 7, 260, 200);
    expect(due.ratio).toBeCloseTo(1.5, 9);
    expect(due.ph).toBeCloseTo(6.6, 9);
    expect(due.level).toBeCloseTo(75 / 260, 9);
  });
  it('guesses the level only, says so, and leaves strength and pH out', () => {
    const now = reservoirNow({}, { volumeMl: 250 }, 7, 7, 250, 200);
    expect(now).toEqual({ level: 0.25, levelIsGuess: true });
    expect(reservoirNow({}, undefined, 0, 7, 250, 200)).toEqual({ level: 0, levelIsGuess: true });
  });
});
