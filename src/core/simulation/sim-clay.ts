import { normal, type Random } from '../statistics/index.ts';

/**
 * A bag of fired clay as the simulators keep it: porous spheres of three sizes, salt diffusing out of each through shells into the water
 * between them, salt dust on the surface, and a shelf of salt that only dissolves slowly. Deliberately another make than the two-pool
 * estimator: no pools, no rate constants, a spread of grains. Concentrations in ppm on the pen's scale, over the water's base.
 */
export type SimBag = {
  /** Litres of pebbles. */
  readonly clayL: number;
  /** Share of the bath that stays on and between the pebbles when they are drained. */
  readonly retained: number;
  readonly grains: readonly SimGrain[];
  /** Salt on the surface before the first water, ppm·L per litre of clay. */
  readonly dust: number;
};
type SimGrain = {
  /** Share of the pebbles' volume. */
  readonly share: number;
  /** Time in hours in which a sphere of this size gives off most of its salt: R²/(π² D). */
  readonly hours: number;
  /** Litres of water that hold as much as a litre of grain at the same strength: pores and what clings to their walls. */
  readonly capacity: number;
  /** Strength of the water in the pores before the first bath, ppm. */
  readonly strength: number;
};

/** The bag's salt now: strength in each shell of each grain (outermost first), of the water round them, its volume. */
export type SimLeach = {
  readonly shells: readonly (readonly number[])[];
  readonly ppm: number;
  readonly waterL: number;
};

const SHELLS = 10;
/** Steps of a tenth of an hour keep the explicit scheme steady for the smallest grains. */
const STEP_H = 0.1;

/** Draws a bag: after a rinse its first bath in as much still water reads some 120 to 260 ppm when flat. */
export function drawBag(random: Random, clayL = 10): SimBag {
  const spread = (middle: number, sd: number) => middle * Math.exp(sd * normal(random));
  const strength = spread(560, 0.22);
  const hours = spread(16, 0.35);
  const capacity = Math.min(0.8, spread(0.42, 0.18));
  return {
    clayL,
    retained: 0.2 + 0.2 * random(),
    dust: spread(22, 0.5),
    grains: [
      { share: 0.25, hours: hours * 0.35, capacity, strength },
      { share: 0.5, hours, capacity, strength: strength * (0.95 + 0.1 * random()) },
      { share: 0.25, hours: hours * 2.6, capacity, strength: strength * (0.95 + 0.1 * random()) },
    ],
  };
}

/** The first water on the bag: it takes the dust at once. @param waterL litres of still water, > 0 */
export function firstLeach(bag: SimBag, waterL: number): SimLeach {
  return {
    shells: bag.grains.map((grain) => new Array<number>(SHELLS).fill(grain.strength)),
    ppm: (bag.dust * bag.clayL) / waterL,
    waterL,
  };
}

/** Hours of standing: every shell gives to the next, the outermost to the water. Salt is conserved to rounding. */
export function leachHours(bag: SimBag, leach: SimLeach, hours: number): SimLeach {
  const shells = leach.shells.map((s) => [...s]);
  let { ppm } = leach;
  const geometry = bag.grains.map((grain) => shellsOf(bag, grain));
  let left = hours;
  while (left > 1e-9) {
    const dt = Math.min(STEP_H, left);
    left -= dt;
    let given = 0;
    for (const [g, { volumes, conductances, surface }] of geometry.entries()) {
      const s = shells[g]!;
      const flow = new Array<number>(SHELLS).fill(0);
      const out = surface * (s[0]! - ppm) * dt;
      flow[0]! -= out;
      given += out;
      for (let i = 0; i + 1 < SHELLS; i++) {
        const between = conductances[i]! * (s[i + 1]! - s[i]!) * dt;
        flow[i]! += between;
        flow[i + 1]! -= between;
      }
      for (let i = 0; i < SHELLS; i++) s[i]! += flow[i]! / volumes[i]!;
    }
    ppm += given / leach.waterL;
  }
  return { shells, ppm, waterL: leach.waterL };
}

/** Pours off all but what clings, or less where less was poured off, and fills with fresh still water. */
export function changeLeach(bag: SimBag, leach: SimLeach, freshL: number, pouredOffL = leach.waterL): SimLeach {
  const staysL = Math.max(bag.retained * leach.waterL, leach.waterL - pouredOffL);
  return { ...leach, waterL: staysL + freshL, ppm: (leach.ppm * staysL) / (staysL + freshL) };
}

/** Salt in the water and the grains, ppm·L. */
export function saltOf(bag: SimBag, leach: SimLeach): number {
  return bag.grains.reduce((sum, grain, g) => {
    const { volumes } = shellsOf(bag, grain);
    return sum + leach.shells[g]!.reduce((inner, c, i) => inner + c * volumes[i]!, 0);
  }, leach.ppm * leach.waterL);
}

/** What the water would read if it stood for ever. */
export function flatPpm(bag: SimBag, leach: SimLeach): number {
  const capacity = bag.grains.reduce((sum, grain) => sum + grain.share * grain.capacity * bag.clayL, 0);
  return saltOf(bag, leach) / (leach.waterL + capacity);
}

/** Finite volumes of a sphere of radius 1 in equal steps of radius: capacities in L, and what passes between them per hour and ppm. */
function shellsOf(bag: SimBag, grain: SimGrain): { volumes: number[]; conductances: number[]; surface: number } {
  const whole = grain.share * grain.capacity * bag.clayL;
  const dr = 1 / SHELLS;
  // D = R²/(π² hours) with R = 1; the flow through an area A over a distance dr is D·A/dr of volume per hour, a sphere being 4π/3.
  const flow = (area: number, distance: number) => ((whole * 3) / (Math.PI ** 2 * grain.hours)) * (area / distance);
  const volumes = Array.from({ length: SHELLS }, (_, i) => whole * ((1 - i * dr) ** 3 - (1 - (i + 1) * dr) ** 3));
  const conductances = Array.from({ length: SHELLS - 1 }, (_, i) => flow((1 - (i + 1) * dr) ** 2, dr));
  return { volumes, conductances, surface: flow(1, dr / 2) };
}
