import { describe, expect, it } from 'vitest';
import { GUIDES, unsteadyCheck, type VisitFact } from './index.ts';

const visit = (on: string, more: Partial<VisitFact> = {}): VisitFact => ({
  eventId: on,
  on,
  days: 7,
  pouredEcUsCm: 200,
  cameOutEcUsCm: 260,
  cameOutPh: 6.2,
  leftMl: 80,
  flushMl: 700,
  ecTainted: false,
  phTainted: false,
  ...more,
});
const steady = { reservoirMl: 250, visits: ['2026-11-04', '2026-11-11', '2026-11-18'].map((on) => visit(on)) };
const sound = { mixes: 3, withoutBase: 0, readAfterAcid: 0, pens: 1, penGoodDays: 12 };
const verdicts = (...args: Parameters<typeof unsteadyCheck>) =>
  unsteadyCheck(...args).map((s) => `${s.id} ${s.verdict}`);

describe('the check of an unsteady reservoir', () => {
  it('goes in the order of practice, and clears what the log clears', () => {
    expect(verdicts(steady, sound)).toEqual([
      'ph cleared',
      'lost cleared',
      'age cleared',
      'base cleared',
      'order cleared',
      'pen cleared',
    ]);
  });
  it('asks what nobody noted', () => {
    const unread = {
      reservoirMl: 250,
      visits: [visit('2026-11-18', { cameOutPh: undefined, leftMl: undefined, cameOutEcUsCm: undefined })],
    };
    expect(verdicts(unread, { ...sound, mixes: 0, penGoodDays: undefined })).toEqual([
      'ph ask',
      'lost ask',
      'age ask',
      'base ask',
      'order ask',
      'pen ask',
    ]);
    expect(verdicts(steady, { ...sound, penGoodDays: 90 }).at(-1)).toBe('pen ask');
  });
  it.each([
    ['ph', { visits: [...steady.visits, visit('2026-11-25', { cameOutPh: 7.6 })] }, {}, /1 of 4 .* \(7\.6\)/],
    ['lost', { visits: [...steady.visits, visit('2026-11-25', { leftMl: 200 })] }, {}, /Between 32 % and 80 %/],
    ['age', { visits: [...steady.visits, visit('2026-11-25', { days: 14 })] }, {}, /from 7 to 14 days/],
    ['base', {}, { withoutBase: 2 }, /2 of its last 3 mixes were made without/],
    ['order', {}, { readAfterAcid: 1 }, /1 of its last 3 mixes had/],
    ['pen', {}, { pens: 2 }, /2 pens/],
  ])('finds %s', (id, of, mix, says) => {
    const step = unsteadyCheck({ ...steady, ...of }, { ...sound, ...mix }).find((s) => s.id === id)!;
    expect(step.verdict).toBe('found');
    expect(step.seen).toMatch(says);
  });
});

describe('what looks alike', () => {
  it.each(GUIDES.map((g) => [g.id, g] as const))(
    '%s: every answer leads somewhere, and every end is reached',
    (_id, guide) => {
      const reached = new Set<string>();
      const walk = (at: string, depth: number): void => {
        expect(depth).toBeLessThan(12);
        const question = guide.questions[at];
        if (!question) {
          expect(guide.ends).toHaveProperty(at);
          reached.add(at);
          return;
        }
        walk(question.yes, depth + 1);
        walk(question.no, depth + 1);
      };
      walk(guide.first, 0);
      expect([...reached].sort()).toEqual(Object.keys(guide.ends).sort());
    },
  );
});
