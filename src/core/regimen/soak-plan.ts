import type { DueSoak } from './coming.ts';
import { type Soak, type SoakWhat, SOAK_WHATS } from './regimen.ts';
import { SOAKS } from './soak-kinds.ts';

/** One soak as it is to be made: of two that are due at once, both in one. Net µS/cm of magnesium, mg/L SiO2. */
export type PlannedSoak = {
  readonly what: SoakWhat;
  readonly netEcUsCm: number | null;
  readonly sio2MgL: number | null;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
  readonly holdMinutes: number;
  /** The first of its season: the silicate's first dose. */
  readonly first: boolean;
  readonly sprayBaskets: boolean;
};

/** What is due at a watering as one soak: magnesium and silicate in one filling; undefined where nothing is due. */
export function soakToMake(due: readonly DueSoak[]): PlannedSoak | undefined {
  const [one, other] = due.map(planned);
  if (!one) return undefined;
  if (!other) return one;
  const what = inOne(one.what, other.what);
  // Soaks that no kind joins are held apart: the other stays due.
  if (!what) return one;
  const [phLow, phHigh] = [Math.max(one.pourPhLow, other.pourPhLow), Math.min(one.pourPhHigh, other.pourPhHigh)];
  return {
    what,
    netEcUsCm: one.netEcUsCm ?? other.netEcUsCm,
    sio2MgL: one.sio2MgL ?? other.sio2MgL,
    // Where they have no pH in common, the magnesium's: it is held, the silicate is only poured.
    ...(phLow < phHigh
      ? { pourPhLow: phLow, pourPhHigh: phHigh }
      : { pourPhLow: one.pourPhLow, pourPhHigh: one.pourPhHigh }),
    holdMinutes: Math.max(one.holdMinutes, other.holdMinutes),
    first: one.first || other.first,
    sprayBaskets: one.sprayBaskets || other.sprayBaskets,
  };
}

/** The kind that brings what both do, and nothing else. */
function inOne(one: SoakWhat, other: SoakWhat): SoakWhat | undefined {
  const wanted = new Set([...SOAKS[one].brings, ...SOAKS[other].brings]);
  return SOAK_WHATS.find((what) => {
    const { brings } = SOAKS[what];
    return brings.length === wanted.size && brings.every((b) => wanted.has(b));
  });
}

function planned({ soak, first }: DueSoak): PlannedSoak {
  const { what, netEcUsCm, sio2MgL, firstSio2MgL, pourPhLow, pourPhHigh, holdMinutes, sprayBaskets }: Soak = soak;
  return {
    what,
    netEcUsCm,
    sio2MgL: first ? (firstSio2MgL ?? sio2MgL) : sio2MgL,
    pourPhLow,
    pourPhHigh,
    holdMinutes,
    first,
    sprayBaskets,
  };
}

/** Key of the bucket a soak is drawn from. A spray is mixed by itself: another use, another strength to be read. */
export function soakKey(soak: PlannedSoak, way: 'soak' | 'spray'): string {
  const strength = [
    soak.netEcUsCm === null ? '' : Math.round(soak.netEcUsCm),
    soak.sio2MgL === null ? '' : `si${Math.round(soak.sio2MgL)}`,
  ].filter(Boolean);
  return `${way}-${soak.what}:${strength.join('+')}:${soak.pourPhLow}-${soak.pourPhHigh}`;
}

/** Minutes one person's hands are busy with a pot at either end of its soak. House rule. */
export const HANDS = { fill: 3, drain: 6 } as const;

/** When a soak is begun and drained, minutes from now. */
export type SoakTimes = { readonly startMin: number; readonly drainMin: number };

/**
 * Soaks begun one after the other so that one person can do them: no two pots want hands at once, each is held for just as long as it should be,
 * and each is begun as early as that allows.
 * @param holds minutes each is held, in the order of the shelf @param busy what else wants hands: from minute to minute
 */
export function staggerSoaks(
  holds: readonly number[],
  busy: readonly { readonly from: number; readonly to: number }[] = [],
  hands = HANDS,
): SoakTimes[] {
  const taken = busy.map(({ from, to }) => ({ from, to }));
  /** Until when hands are busy that are wanted from one minute to another; undefined where they are free. */
  const busyUntil = (from: number, to: number) => taken.find((b) => to > b.from && from < b.to)?.to;
  return holds.map((hold) => {
    let start = 0;
    // Behind everything that is taken there is always a place.
    for (;;) {
      const filling = busyUntil(start, start + hands.fill);
      if (filling !== undefined) {
        start = filling;
        continue;
      }
      const drainAt = start + hands.fill + hold;
      const draining = busyUntil(drainAt, drainAt + hands.drain);
      if (draining === undefined) break;
      start = Math.max(start + 1, draining - hands.fill - hold);
    }
    const drainMin = start + hands.fill + hold;
    taken.push({ from: start, to: start + hands.fill }, { from: drainMin, to: drainMin + hands.drain });
    return { startMin: start, drainMin };
  });
}

/** A mix takes a quarter of an hour, a pot five minutes, where nobody knows better. House rules. */
export const MIX_MINUTES = 15;
export const POT_MINUTES = 5;
/** Minutes a round takes one person: its mixes, its pots, a soak its hands besides. @param each what a pot and a mix take, min */
export function roundMinutes(
  pots: number,
  mixes: number,
  holds: readonly number[],
  each: { readonly pot: number; readonly mix: number } = { pot: POT_MINUTES, mix: MIX_MINUTES },
): number {
  const soaks = staggerSoaks(holds);
  const withSoaks = Math.max(0, ...soaks.map((s) => s.drainMin + HANDS.drain));
  // While soaks stand, other pots are done.
  return mixes * each.mix + Math.max(pots * each.pot + holds.length * HANDS.fill, withSoaks);
}

/** To the brim where nobody measured it, times the reservoir. House rule. */
const BRIM_PER_RESERVOIR = 2.6;
/** A leaf spray that runs off, mL for a basket. House rule. */
const SPRAY_ML = 50;

/** What a soak takes of a pot to be filled to the brim, or a spray of its leaves, mL. */
export function soakPourMl(
  pot: { readonly brimMl: number | null; readonly reservoirMl: number },
  way: 'soak' | 'spray',
): number {
  return way === 'spray' ? SPRAY_ML : Math.round((pot.brimMl ?? BRIM_PER_RESERVOIR * pot.reservoirMl) / 10) * 10;
}
