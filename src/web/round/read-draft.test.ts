import { describe, expect, it } from 'vitest';
import { EMPTY_DRAFT, readDraft } from './read-draft.ts';

const pot = { fillMl: 250, reservoirMl: 260 };
const draft = (more: object) => readDraft({ ...EMPTY_DRAFT, ...more }, pot);

describe('what is typed on a pot’s card', () => {
  it('empty means not measured and filled as planned; the expected value is never logged', () => {
    expect(draft({})).toEqual({
      ok: true,
      readings: {
        oldReservoir: { ppm: { kind: 'notMeasured' }, ph: { kind: 'notMeasured' }, leftMl: null },
        pouredMl: 250,
        flushMl: null,
        runOffPpm: { kind: 'notMeasured' },
      },
    });
  });
  it('figures are taken as typed', () => {
    expect(draft({ ppm: '214', ph: '6,8', left: '60', fill: '240', flush: '0', runOff: '120' })).toEqual({
      ok: true,
      readings: {
        oldReservoir: { ppm: { kind: 'value', value: 214 }, ph: { kind: 'value', value: 6.8 }, leftMl: 60 },
        pouredMl: 240,
        flushMl: 0,
        runOffPpm: { kind: 'value', value: 120 },
      },
    });
    expect(draft({ ppm: 'over' })).toMatchObject({ readings: { oldReservoir: { ppm: { kind: 'overRange' } } } });
  });
  it.each([
    [{ ppm: 'wet' }, 'ppm'],
    [{ ppm: '40000' }, 'ppm'],
    [{ ph: '19' }, 'ph'],
    [{ left: '-5' }, 'left'],
    [{ left: '9000' }, 'left'],
    [{ flush: 'some' }, 'flush'],
    [{ runOff: 'wet' }, 'runOff'],
    [{ fill: '0' }, 'fill'],
    [{ fill: 'lots' }, 'fill'],
    [{ fill: '9000' }, 'fill'],
  ])('%j is answered at %s', (typed, field) => {
    const read = draft(typed);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(Object.keys(read.errors)).toEqual([field]);
  });
});
