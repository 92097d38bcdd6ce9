import fc from 'fast-check';
import type { Lot, PlanProblem } from '../src/core/plan/index.ts';

/* Seasons for the plan's tests. */

export const lot = (id: string, more: Partial<Lot> = {}): Lot => ({
  id,
  tray: id,
  potIds: [`${id}-1`, `${id}-2`],
  lastOn: -3,
  dueOn: 1,
  turn: 0,
  feeds: [{ mix: 'feed', stillL: 2, everyDays: 4 }],
  soonestDays: 2,
  latestDays: 7,
  dryOn: null,
  dryDays: null,
  soaks: [],
  pinned: [],
  not: [],
  ...more,
});

/** Collections of every kind: days off, away, tight and ample tanks, rotas, soaks, new clay, pins. */
export const some = fc
  .record({
    days: fc.integer({ min: 7, max: 28 }),
    off: fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { maxLength: 3 }),
    lots: fc.array(
      fc.record({
        pots: fc.integer({ min: 1, max: 8 }),
        every: fc.integer({ min: 1, max: 15 }),
        last: fc.integer({ min: -20, max: 0 }),
        stillL: fc.double({ min: 0, max: 4, noNaN: true }),
        soak: fc.option(fc.record({ from: fc.integer({ min: 0, max: 20 }), long: fc.integer({ min: 0, max: 20 }) })),
        rota: fc.boolean(),
        dry: fc.option(fc.integer({ min: 2, max: 20 })),
        pin: fc.option(fc.integer({ min: 0, max: 27 })),
      }),
      { maxLength: 6 },
    ),
    tank: fc.option(
      fc.record({
        startL: fc.double({ min: 0, max: 20, noNaN: true }),
        capL: fc.double({ min: 1, max: 30, noNaN: true }),
        made: fc.double({ min: 0, max: 9, noNaN: true }),
      }),
    ),
    leach: fc.option(
      fc.record({ litres: fc.double({ min: 1, max: 18, noNaN: true }), gap: fc.integer({ min: 1, max: 9 }) }),
    ),
    minutes: fc.option(fc.integer({ min: 10, max: 120 })),
  })
  .map((of): PlanProblem => ({
    days: of.days,
    works: Array.from({ length: of.days }, (_, t) => !of.off.includes(t % 7)),
    minutesADay: of.minutes,
    tank: of.tank && {
      startL: Math.min(of.tank.startL, of.tank.capL),
      capL: of.tank.capL,
      madeL: Array.from({ length: of.days }, () => of.tank!.made),
    },
    lots: of.lots.map((l, n) =>
      lot(`l${n}`, {
        tray: `t${n % 2}`,
        potIds: Array.from({ length: l.pots }, (_, i) => `${n}-${i}`),
        lastOn: l.last,
        dueOn: l.last + l.every,
        feeds: l.rota
          ? [
              { mix: 'feed', stillL: l.stillL, everyDays: l.every },
              { mix: '', stillL: l.stillL, everyDays: l.every },
            ]
          : [{ mix: n % 2 ? 'weak' : 'feed', stillL: l.stillL, everyDays: l.every }],
        soonestDays: Math.max(1, Math.floor(l.every / 2)),
        latestDays: l.every + 4,
        dryDays: l.dry,
        dryOn: l.dry === null ? null : l.last + l.dry,
        soaks: l.soak
          ? [
              {
                mix: 'soak',
                what: 'magnesium',
                pinned: false,
                stillL: 1,
                from: l.soak.from,
                until: l.soak.from + l.soak.long,
                apartDays: 21,
              },
            ]
          : [],
        pinned: l.pin === null || l.pin >= of.days ? [] : [l.pin],
      }),
    ),
    leaches: of.leach
      ? [{ id: 'clay', name: 'batch 5', changeL: of.leach.litres, gapDays: of.leach.gap, dueOn: 1, changes: 4 }]
      : [],
    fixed: [],
    minutes: { mix: 15, pot: 5, soakedPot: 9, leach: 20 },
  }));
