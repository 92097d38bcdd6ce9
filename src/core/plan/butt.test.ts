import { describe, expect, it } from 'vitest';
import { buttCourse } from './butt.ts';

const lots = [
  { turn: 1, feeds: [{ buttL: 3 }, { buttL: 1 }] },
  { turn: 0, feeds: [{ buttL: 2 }] },
];
const plan = { visits: [[0, 4], [0]] };

describe('the rain butt along a plan', () => {
  it('gives each watering its turn’s share, and says the first day it does not reach', () => {
    expect(buttCourse(lots, plan, { startL: 5, capL: null, perDayL: 0 }, 7)).toEqual({
      drawnL: 6,
      leftL: 0,
      shortOn: 4,
    });
    expect(buttCourse(lots, plan, { startL: 6, capL: null, perDayL: 0 }, 7)).toEqual({
      drawnL: 6,
      leftL: 0,
      shortOn: null,
    });
  });
  it('fills up to its brim after the day’s work', () => {
    expect(buttCourse(lots, plan, { startL: 3, capL: 4, perDayL: 1 }, 7)).toMatchObject({ leftL: 4, shortOn: null });
    expect(buttCourse([], { visits: [] }, { startL: 9, capL: 4, perDayL: 0 }, 2)).toEqual({
      drawnL: 0,
      leftL: 4,
      shortOn: null,
    });
  });
});
