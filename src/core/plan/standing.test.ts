import { describe, expect, it } from 'vitest';
import { plannedNext, soakWaits, soonestDays, type PlannedVisit } from './standing.ts';

const visit = (on: string, more: Partial<PlannedVisit> = {}): PlannedVisit => ({ on, late: 0, soaks: [], ...more });
const WEEKLY = [visit('2026-12-01'), visit('2026-12-08'), visit('2026-12-15')];
const next = (
  today: string,
  lastFilledOn: string | undefined,
  ownDueOn: string,
  visits: readonly PlannedVisit[] = WEEKLY,
  pins: string[] = [],
) => plannedNext(visits, { lastFilledOn, ownDueOn, soonestDays: soonestDays(7), pins }, today);

describe('what of a plan holds for a pot', () => {
  it('the first watering that is not too soon after the last', () => {
    expect(next('2026-11-30', '2026-11-24', '2026-12-01')).toMatchObject({ dueOn: '2026-12-01' });
    // Filled a day early: the next is the week after, not the day after.
    expect(next('2026-12-01', '2026-11-30', '2026-12-07')).toMatchObject({ dueOn: '2026-12-08' });
    expect(next('2026-12-01', undefined, '2026-12-01')).toMatchObject({ dueOn: '2026-12-01' });
  });
  it('a day that passed makes it due today, or on its own day where that was sooner', () => {
    expect(next('2026-12-03', '2026-11-24', '2026-12-05')).toMatchObject({ dueOn: '2026-12-03' });
    expect(next('2026-12-03', '2026-11-24', '2026-12-01')).toMatchObject({ dueOn: '2026-12-01' });
  });
  it('past its own day it holds only as late as the plan meant it to be', () => {
    const late = [visit('2026-12-04', { late: 3 })];
    expect(next('2026-12-01', '2026-11-24', '2026-12-01', late)).toMatchObject({ dueOn: '2026-12-04' });
    expect(next('2026-12-01', '2026-11-24', '2026-11-28', late)).toBeUndefined();
    // The grower’s own day holds whatever it is.
    expect(next('2026-12-01', '2026-11-24', '2026-11-28', late, ['2026-12-04'])).toMatchObject({ dueOn: '2026-12-04' });
  });
  it('says nothing once it is used up', () => {
    expect(next('2026-12-20', '2026-12-15', '2026-12-22')).toBeUndefined();
    expect(next('2026-12-20', '2026-12-15', '2026-12-22', [])).toBeUndefined();
  });
  it('a soak waits for the watering of its month that has it, and for no other month', () => {
    const visits = [
      visit('2026-12-01'),
      visit('2026-12-08', { soaks: ['magnesium'] }),
      visit('2027-01-05', { soaks: ['silicate'] }),
    ];
    expect(soakWaits(visits, visits[0]!, 'magnesium')).toBe(true);
    expect(soakWaits(visits, visits[0]!, 'silicate')).toBe(false);
    expect(soakWaits(visits, visits[1]!, 'magnesium')).toBe(false);
  });
});
