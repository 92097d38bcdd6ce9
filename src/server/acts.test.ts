import { describe, expect, it } from 'vitest';
import type { z } from 'zod';
import { careKinds } from '../contract/care.ts';
import { actNamed, actOf, READ_KINDS } from './acts.ts';

describe('the registry of acts', () => {
  it.each(careKinds)('%s is told, taken back and corrected by its own definition', (kind) => {
    const act = actOf(kind);
    expect(act.kind).toBe(kind);
    expect(act.undone).not.toBe('');
    // What may not be put right is a field the act has.
    const fields = Object.keys(act.payload.shape);
    for (const field of act.correct?.fixed ?? []) expect(fields).toContain(field);
    // Figures that a pen gave can be put right.
    if (act.figures) expect(act.correct).toBeDefined();
  });
  it.each(careKinds)('%s says which of its fields hold a day or an instant', (kind) => {
    const { payload, dates } = actOf(kind);
    const taking = (text: string) =>
      Object.entries(payload.shape as Record<string, z.ZodType>)
        .filter(([, field]) => field.safeParse(text).success && !field.safeParse('no date').success)
        .map(([name]) => name);
    expect(dates?.days ?? []).toEqual(taking('2026-03-01'));
    expect(dates?.instants ?? []).toEqual(taking('2026-03-01T09:00:00.000Z'));
  });
  it('names no kind but those of the contract', () => {
    expect(actNamed('toString')).toBeUndefined();
    expect(actNamed('potWatered')).toBeUndefined();
    expect(READ_KINDS).toContain('soakRead');
    expect(READ_KINDS).not.toContain('batchPoured');
  });
});
