import { drawsBy, type Lot, type PlanProblem } from '../src/core/plan/index.ts';

/* Generated collections for the season's benchmarks. */

export const DAYS = 42;
/** Tank in days of what the collection drinks: tight, ample. */
export const TANKS = { tight: 0.9, ample: 2.5 };

/** @param share of what the collection drinks a day that stands in the tank */
export function collection(pots: number, share: number, seed: number): PlanProblem {
  const draw = drawsBy(seed);
  const lots: Lot[] = [];
  for (let n = 0; lots.reduce((sum, lot) => sum + lot.potIds.length, 0) < pots; n++) {
    const size = 3 + Math.floor(draw() * 6);
    const everyDays = [7, 7, 7, 10, 14][Math.floor(draw() * 5)]!;
    const lastOn = -Math.floor(draw() * everyDays);
    lots.push({
      id: `l${n}`,
      tray: `t${Math.floor(n / 2)}`,
      potIds: Array.from({ length: size }, (_, i) => `${n}-${i}`),
      lastOn,
      dueOn: lastOn + everyDays,
      turn: 0,
      feeds: [
        {
          mix: ['feed 90', 'feed 75', 'feed 180'][Math.floor(draw() * 3)]!,
          stillL: size * (0.3 + 0.4 * draw()),
          everyDays,
        },
      ],
      soonestDays: Math.ceil(0.6 * everyDays),
      latestDays: 21,
      dryOn: lastOn + Math.ceil(everyDays * 1.4),
      dryDays: Math.ceil(everyDays * 1.4),
      soaks:
        draw() < 0.4
          ? [
              { mix: 'soak', what: 'magnesium', pinned: false, stillL: size * 0.9, from: 0, until: 20, apartDays: 21 },
              { mix: 'soak', what: 'magnesium', pinned: false, stillL: size * 0.9, from: 21, until: 41, apartDays: 21 },
            ]
          : [],
      pinned: [],
      not: [],
    });
  }
  const perDay = lots.reduce((sum, lot) => sum + lot.feeds[0]!.stillL / lot.feeds[0]!.everyDays, 0);
  const madeL = 1.35 * perDay;
  return {
    days: DAYS,
    works: Array.from({ length: DAYS }, (_, t) => t % 7 < 5 || seed % 2 === 0),
    minutesADay: null,
    tank: { startL: share * madeL, capL: 2 * share * madeL, madeL: Array.from({ length: DAYS }, () => madeL) },
    lots,
    leaches: [{ id: 'clay', name: 'clay', changeL: 2 * madeL, gapDays: 7, dueOn: 2, changes: 5 }],
    fixed: [],
    minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
  };
}
