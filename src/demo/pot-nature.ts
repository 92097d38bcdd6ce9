import { normal, type Random, type SimPotNature } from '../core/simulation/index.ts';
import { FRESH_DAYS_AGO, type DemoPot } from './scenario.ts';
import type { LivePot } from './world.ts';

const SALTING_SINCE_DAYS = 70;
export const WET_DAYS_AGO = 84;
export const PEAT_DAYS_AGO = 36;

/** The hidden nature of a pot: what its place and its story make of it. */
export function natureOf(spec: DemoPot, random: Random): SimPotNature {
  const warm = spec.place === 'P' ? 0.5 : spec.place === 'L' ? 1.05 : 1;
  const vary = () => 1 + 0.15 * normal(random);
  const nature: SimPotNature = {
    reservoirMl: spec.reservoirMl,
    poreMl: spec.form === 'water' ? 5 : 0.3 * spec.reservoirMl,
    evaporatedMlDay: 0.03 * spec.reservoirMl * warm * vary(),
    drunkMlDay: 0.066 * spec.reservoirMl * warm * vary(),
    uptakeShare: Math.min(1, 0.9 * vary()),
    alkalinityUeqDay: -0.0035 * spec.reservoirMl * warm * vary(),
    clayEcUsLDay: spec.form === 'water' ? 0 : 0.1 * Math.abs(vary()),
    flushLeaves: 0.3,
  };
  switch (spec.story) {
    case 'trouble':
      return {
        ...nature,
        clayEcUsLDay: 4.5,
        alkalinityUeqDay: 8,
        quickUeq: 34,
        drunkMlDay: nature.drunkMlDay * 0.25,
        flushLeaves: 0.75,
      };
    case 'pushes':
      return { ...nature, alkalinityUeqDay: 4.5, quickUeq: 22 };
    case 'thirsty':
      return { ...nature, drunkMlDay: nature.drunkMlDay * 1.4, uptakeShare: 1 };
    case 'hungry':
      return {
        ...nature,
        uptakeShare: 1,
        evaporatedMlDay: nature.evaporatedMlDay * 0.5,
        drunkMlDay: nature.drunkMlDay * 1.3,
      };
    default:
      return nature;
  }
}

/** What was tried against a clay that pushes, and how much of the push it truly leaves. */
const TRIED: Record<string, { daysAgo: number; leaves: number }> = {
  pushes: { daysAgo: WET_DAYS_AGO, leaves: 0.65 },
  trouble: { daysAgo: PEAT_DAYS_AGO, leaves: 0.85 },
};

/** R-07 has been flushed with ever less water since the autumn: what of the planned litres was poured. */
export function flushedShare(pot: LivePot, day: number): number {
  if (pot.spec.story !== 'salting' || day < -SALTING_SINCE_DAYS) return 1;
  return 1 - 0.9 * Math.min(1, (day + SALTING_SINCE_DAYS) / (0.6 * SALTING_SINCE_DAYS));
}

/** What changed in a pot over the year: R-07 drinks less of its salt, in a drier autumn. */
export function natureOn(pot: LivePot, day: number): SimPotNature {
  const summer = 1 + 0.18 * Math.cos((2 * Math.PI * (day + 130)) / 365);
  const base = { ...pot.nature, evaporatedMlDay: pot.nature.evaporatedMlDay * summer };
  const tried = TRIED[pot.spec.story ?? ''];
  if (tried && day >= -tried.daysAgo)
    return {
      ...base,
      alkalinityUeqDay: base.alkalinityUeqDay * tried.leaves,
      quickUeq: (base.quickUeq ?? 0) * tried.leaves,
    };
  if (pot.spec.story === 'fresh' && day >= -FRESH_DAYS_AGO) return { ...base, alkalinityUeqDay: 0.3, quickUeq: 8 };
  if (pot.spec.story !== 'salting' || day < -SALTING_SINCE_DAYS) return base;
  const along = Math.min(1, (day + SALTING_SINCE_DAYS) / SALTING_SINCE_DAYS);
  return {
    ...base,
    alkalinityUeqDay: 2 * along,
    quickUeq: 8 * along,
    evaporatedMlDay: base.evaporatedMlDay * (1 + 0.45 * along),
    uptakeShare: base.uptakeShare * (1 - 0.6 * along),
  };
}
