import { describe, expect, it } from 'vitest';
import type { Water } from '../database/entities.ts';
import { plainWater, solvedWater, waterAt, waterNow, type WaterEntry } from './waters.ts';

const row = { id: 'w', kind: 'rain' } as Water;
const kit = (dkh: number) =>
  JSON.stringify({ method: 'kit', alkalinity: { value: dkh, unit: '°dKH' }, hardness: null });
const entry: WaterEntry = {
  row,
  bases: [
    { at: '2026-03-01T08:00:00.000Z', ecUsCm: 40 },
    { at: '2026-05-01T08:00:00.000Z', ecUsCm: 52 },
  ],
  phs: [{ at: '2026-04-01T08:00:00.000Z', ph: 6.4 }],
  tests: [
    { from: '', value: null },
    { from: '2026-06-01T08:00:00.000Z', value: kit(1) },
    { from: '2026-08-01T08:00:00.000Z', value: kit(2) },
  ],
};

describe('a water at a moment', () => {
  it('is known by what had been read of it until then, never by what was read after', () => {
    expect(waterAt(entry, '2026-02-01')).toMatchObject({ ecUsCm: undefined, ph: null });
    expect(waterAt(entry, '2026-03-01T08:00:00.000Z')).toMatchObject({ ecUsCm: 40, ph: null });
    expect(waterAt(entry, '2026-04-15')).toMatchObject({ ecUsCm: 40, ph: 6.4 });
    expect(waterNow(entry)).toMatchObject({ ecUsCm: 52, ph: 6.4 });
  });
  it('has the test of its day; before the first, the first', () => {
    expect(waterAt(entry, '2026-03-01').test).toBe(kit(1));
    expect(waterAt(entry, '2026-07-01').test).toBe(kit(1));
    expect(waterAt(entry, '2026-09-01').test).toBe(kit(2));
  });
  it('is solved once for the same figures; never read, it is a usual still water', () => {
    expect(solvedWater(waterAt(entry, '2026-02-01'))).toBeUndefined();
    expect(solvedWater({ kind: 'rain', test: null, ecUsCm: 40, ph: 6.4 })).toBe(
      solvedWater({ kind: 'rain', test: null, ecUsCm: 40, ph: 6.4 }),
    );
    expect(plainWater(waterAt(entry, '2026-02-01'))!.curve.ecUsCm).toBeLessThan(20);
    expect(plainWater(waterNow(entry))!.curve.ecUsCm).toBeGreaterThan(30);
  });
  it('a brine is past what the chemistry reaches, and is taken for no water one knows', () => {
    expect(plainWater({ kind: 'other', test: null, ecUsCm: 16_000, ph: null })).toBeUndefined();
  });
});
