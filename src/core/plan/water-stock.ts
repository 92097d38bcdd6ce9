import { daysBetween, plusDays, type LocalDate } from '../regimen/index.ts';
import { DomainError, requireNotNegative } from '../quantity/index.ts';

export type WaterStock = { readonly litres: number; readonly usedL: number; readonly madeL: number };

/**
 * What stands in a tank today: from the last look, day by day, what is made is added up to the brim and what was drawn is taken off, never
 * below nothing. On the day of the look only what was drawn after it counts.
 * @param tank countedL at the look, L; perDayL made a day; tankL the brim (null: no brim known)
 * @param drawn litres drawn by day, from the day of the look on
 * @returns L in the tank, with what was made and drawn since
 * @throws DomainError when the look lies after today
 */
export function waterStock(
  tank: {
    readonly countedL: number;
    readonly countedOn: LocalDate;
    readonly perDayL: number;
    readonly tankL: number | null;
    /** Days on which otherwise much was made or brought, L. */
    readonly madeOn?: ReadonlyMap<LocalDate, number> | undefined;
  },
  drawn: readonly { readonly on: LocalDate; readonly litres: number }[],
  today: LocalDate,
): WaterStock {
  requireNotNegative(tank.countedL, 'what stands in the tank');
  requireNotNegative(tank.perDayL, 'what is made a day');
  const days = daysBetween(tank.countedOn, today);
  if (!(days >= 0))
    throw new DomainError(
      'out-of-range',
      'The tank was looked into after today',
      tank.countedOn,
      'Check the date of the look.',
    );
  const byDay = new Map<LocalDate, number>();
  for (const { on, litres } of drawn) byDay.set(on, (byDay.get(on) ?? 0) + litres);
  let litres = tank.countedL;
  let madeL = 0;
  let usedL = 0;
  for (let day = 0; day <= days; day++) {
    if (day > 0) {
      const room = tank.tankL === null ? Infinity : Math.max(0, tank.tankL - litres);
      const made = Math.min(tank.madeOn?.get(plusDays(tank.countedOn, day)) ?? tank.perDayL, room);
      litres += made;
      madeL += made;
    }
    const draw = byDay.get(plusDays(tank.countedOn, day)) ?? 0;
    usedL += draw;
    litres = Math.max(0, litres - draw);
  }
  return { litres, usedL, madeL };
}
