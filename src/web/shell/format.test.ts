import { beforeEach, describe, expect, it } from 'vitest';
import { newId } from './api.ts';
import {
  dayMonth,
  dayMonthYear,
  durationWords,
  litres,
  mL,
  money,
  phText,
  ppmText,
  setCurrency,
  weekdayDayMonth,
  whenText,
} from './format.ts';

describe('figures keep their unit', () => {
  it.each([
    [mL(250), '250\u00a0mL'],
    [mL(1250), '1.3\u00a0L'],
    [mL(0.5555), '0.56\u00a0mL'],
    [litres(0.25), '0.25\u00a0L'],
    [litres(2.55), '2.5\u00a0L'],
    [ppmText(103.6), '104'],
    [phText(6), '6.0'],
  ])('%s', (got, want) => expect(got).toBe(want));
});

describe('prices', () => {
  it('stand with the sign of the settings, before or behind as it is written; little is never nothing', () => {
    const told = (sign: string) => (setCurrency(sign), [0, 0.0001, 0.024, 0.36, 12].map(money));
    expect(told('')).toEqual(['0.00', 'under 0.001', '0.024', '0.36', '12.00']);
    expect(told('£')).toEqual(['£0.00', 'under £0.001', '£0.024', '£0.36', '£12.00']);
    expect(told('EUR')[3]).toBe('0.36\u00a0EUR');
    setCurrency('');
  });
});

describe('days read as one says them', () => {
  it('today, yesterday, then the day', () => {
    expect(whenText('2026-11-25', '09:31', '2026-11-25')).toBe('today 09:31');
    expect(whenText('2026-11-24', '18:02', '2026-11-25')).toBe('yesterday 18:02');
    expect(whenText('2026-11-23', '18:02', '2026-11-25')).toBe('Mon 23 Nov');
    expect([dayMonth('2026-11-05'), dayMonthYear('2025-11-26'), weekdayDayMonth('2026-11-25')]).toEqual([
      '5 Nov',
      '26 Nov 2025',
      'Wed 25 Nov',
    ]);
  });
});

describe('ids', () => {
  let ids: string[];
  beforeEach(() => {
    ids = Array.from({ length: 200 }, newId);
  });
  it('are version 4 UUIDs, and never the same', () => {
    for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(new Set(ids).size).toBe(ids.length);
  });
});

describe('how long it takes', () => {
  it('is minutes, and over an hour whole ones', () => {
    expect([7.5, 59, 60, 139.5, 119.6].map(durationWords)).toEqual([
      '7.5\u00a0min',
      '59\u00a0min',
      '1\u00a0h 00\u00a0min',
      '2\u00a0h 20\u00a0min',
      '2\u00a0h 00\u00a0min',
    ]);
  });
});
