import { normalCdf } from '../statistics/index.ts';
import { onGrid, sphereSeries, spreadOver } from './spectrum.ts';
import type { ClayParameters } from './stores.ts';

/**
 * What clays may be like, as coordinates that are each standard normal before anything is known. Ranges are those of the physics, of no
 * simulator: diffusivity of salts in wet fired clay 3·10⁻¹² to 5·10⁻¹¹ m²/s and radii of 2 to 8 mm give the slowest rate π²D/r²; pebbles of
 * 0.35 to 0.6 kg/L take up 10 to 30 % of their mass in water and hold as much again on their walls (values from memory). The kinds of structure,
 * their odds, the dust and the slow source are common practice or guesses, and wide.
 */
export const COORDINATES = [
  'family',
  'slowest',
  'skin',
  'sizes',
  'capacity',
  'dustHours',
  'fastRate',
  'slowRate',
  'slowShare',
  'hasSource',
  'sourceHours',
  'retained',
  'pore',
  'dust',
  'source',
] as const;
export type Coordinate = (typeof COORDINATES)[number];
export const AT: Readonly<Record<Coordinate, number>> = Object.freeze(
  Object.fromEntries(COORDINATES.map((name, i) => [name, i])) as Record<Coordinate, number>,
);
/** Coordinates of structure; the three after them are amounts, in which every reading is linear. */
export const SHAPES = 12;

/** Amounts as mean and SD: pore water ppm; dust and slow source ppm·L per litre of clay. */
export const AMOUNTS = Object.freeze([
  { mean: 400, sd: 300 },
  { mean: 30, sd: 40 },
  { mean: 60, sd: 60 },
] as const);

const RETAINED = { logit: -1, sd: 0.35 } as const;
/** The coordinate of a share that stays on the clay. */
export const retainedAt = (share: number) => (Math.log(share / (1 - share)) - RETAINED.logit) / RETAINED.sd;
/** Of a standard deviation of the share, as a logit. */
export const retainedSd = (sd: number) => sd / RETAINED.sd;

const between = (z: number, low: number, high: number) => low * Math.pow(high / low, normalCdf(z));
/** Three in five are spheres with a skin, the others two rates. */
const SPHERES = 0.2533;
/** Two in five have salt that dissolves slowly. */
const HAS_SOURCE = 0.2533;

/** A clay of this structure, with nothing in it yet. @param z coordinates, of which the first twelve count */
export function shapeOf(z: ArrayLike<number>): Omit<ClayParameters, 'porePpm' | 'dust' | 'source'> {
  const at = (name: Coordinate) => z[AT[name]]!;
  const slowShare = 0.1 + 0.8 * normalCdf(at('slowShare'));
  const parts =
    at('family') < SPHERES
      ? sphereSeries(between(at('slowest'), 1.5e-3, 0.8), between(at('skin'), 0.1, 200))
      : [
          { rate: between(at('fastRate'), 0.03, 1), share: 1 - slowShare },
          { rate: between(at('slowRate'), 0.001, 0.05), share: slowShare },
        ];
  const capacity = between(at('capacity'), 0.07, 0.6);
  return {
    capacities: onGrid(spreadOver(parts, 1.2 * normalCdf(at('sizes')) ** 2)).map((w) => w * capacity),
    dustHours: between(at('dustHours'), 0.15, 8),
    sourceHours: between(at('sourceHours'), 50, 1000),
    retained: 1 / (1 + Math.exp(-(RETAINED.logit + RETAINED.sd * at('retained')))),
  };
}

/** Whether a clay of these coordinates has salt that dissolves slowly. */
export const hasSource = (z: ArrayLike<number>) => z[AT.hasSource]! > HAS_SOURCE;
