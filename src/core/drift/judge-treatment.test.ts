import { describe, expect, it } from 'vitest';
import { judgeTreatment, type Rise } from './index.ts';

const rises = (...values: number[]): Rise[] => values.map((rise) => ({ rise, tainted: false }));

describe('what the readings say of something that was tried', () => {
  it('nothing before three sound visits on either side', () => {
    expect(judgeTreatment(rises(1.2, 1.1, 1.3), rises(0.4, 0.3), undefined).verdict).toBe('cannotTell');
    const tainted = rises(1.2, 1.1, 1.3).map((r) => ({ ...r, tainted: true }));
    expect(judgeTreatment(tainted, rises(0.4, 0.3, 0.4), undefined).words).toContain('0 before');
  });
  it('that it helps, that it harms, that nothing changed, or that it cannot be told', () => {
    const before = rises(1.2, 1.1, 1.3, 1.2);
    expect(judgeTreatment(before, rises(0.5, 0.6, 0.4, 0.5), undefined).verdict).toBe('helps');
    expect(judgeTreatment(before, rises(1.8, 1.9, 1.7, 1.8), undefined).verdict).toBe('worse');
    expect(judgeTreatment(before, rises(0.2, 2.1, 1.1), undefined).verdict).toBe('cannotTell');
    const many = Array.from({ length: 25 }, (_, i) => 1.2 + (i % 2 ? 0.05 : -0.05));
    expect(judgeTreatment(rises(...many), rises(...many), undefined).verdict).toBe('nothing');
  });
  it('a test of the same kind may tell where visits cannot, unless it dried out since', () => {
    const tests = { before: { middle: 50, sd: 4 }, after: { middle: 25, sd: 4 }, driedSince: false };
    expect(judgeTreatment([], [], tests).verdict).toBe('helps');
    const dried = judgeTreatment([], [], { ...tests, driedSince: true });
    expect(dried.verdict).toBe('cannotTell');
    expect(dried.words).toContain('dried out');
  });
});
