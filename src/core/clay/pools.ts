import { DomainError, requirePositive } from '../quantity/index.ts';

/**
 * Clay as two pools that give their salt to the water round them: a fast one (surface, open pores) and a slow one (inner pores, a stand-in
 * for diffusion). Capacities are litres of water that hold as much as the pool at the same strength, per litre of clay; strengths are ppm over
 * the water's base on one pen's scale.
 */
export type ClayParameters = {
  readonly fastCapacity: number;
  readonly slowCapacity: number;
  readonly fastHours: number;
  readonly slowHours: number;
  readonly fastPpm: number;
  readonly slowPpm: number;
  /** Share of the bath that stays on the clay when it is poured off. */
  readonly retained: number;
};

/** A bath at a moment: the water and both pools. */
export type LeachState = {
  readonly ppm: number;
  readonly waterL: number;
  readonly fastPpm: number;
  readonly slowPpm: number;
};

/** The first water on a batch, before it took anything. @throws DomainError on a bath or a batch without volume */
export function firstWater(clay: ClayParameters, clayL: number, waterL: number): LeachState {
  requirePositive(clayL, 'the batch');
  requirePositive(waterL, 'the soak');
  return { ppm: 0, waterL, fastPpm: clay.fastPpm, slowPpm: clay.slowPpm };
}

/**
 * The bath after some hours: the exact solution of the two exchanges, so that salt is conserved to rounding.
 * With x the excess of each pool over the water, x' = −A x, A = [[1/τf + af, as], [af, 1/τs + as]], a = capacity/(τ · water).
 * @param hours ≥ 0
 */
export function afterHours(clay: ClayParameters, clayL: number, leach: LeachState, hours: number): LeachState {
  if (!(hours >= 0))
    throw new DomainError('negative', 'Time does not run backwards', hours, 'Check the order of the readings.');
  const kf = clay.fastCapacity * clayL;
  const ks = clay.slowCapacity * clayL;
  const af = kf / (clay.fastHours * leach.waterL);
  const as = ks / (clay.slowHours * leach.waterL);
  const a = 1 / clay.fastHours + af;
  const d = 1 / clay.slowHours + as;
  const [x, y] = decay(a, as, af, d, leach.fastPpm - leach.ppm, leach.slowPpm - leach.ppm, hours);
  const salt = saltIn(clay, clayL, leach);
  const ppm = (salt - kf * x - ks * y) / (leach.waterL + kf + ks);
  return { ppm, waterL: leach.waterL, fastPpm: ppm + x, slowPpm: ppm + y };
}

/** exp(−[[a, b], [c, d]] t) on (x, y), by the two real rates of the matrix: b and c are positive, so they are real and apart. */
function decay(a: number, b: number, c: number, d: number, x: number, y: number, t: number): [number, number] {
  const middle = (a + d) / 2;
  const half = Math.sqrt(((a - d) / 2) ** 2 + b * c);
  const [slow, fast] = [Math.exp(-(middle - half) * t), Math.exp(-(middle + half) * t)];
  // (A − λ1) and (A − λ2) project on the other mode.
  const u = (fast - slow) / (2 * half);
  const v = ((middle + half) * slow - (middle - half) * fast) / (2 * half);
  return [v * x + u * (a * x + b * y), v * y + u * (c * x + d * y)];
}

/** Salt in the water and both pools, ppm·L. */
export function saltIn(clay: ClayParameters, clayL: number, leach: LeachState): number {
  return leach.ppm * leach.waterL + clayL * (clay.fastCapacity * leach.fastPpm + clay.slowCapacity * leach.slowPpm);
}

/** What the water reads when it stands for ever: the gate is judged by this, since a bath read early passes falsely. */
export function flatPpm(clay: ClayParameters, clayL: number, leach: LeachState): number {
  return saltIn(clay, clayL, leach) / (leach.waterL + clayL * (clay.fastCapacity + clay.slowCapacity));
}

/**
 * Pours off all but what clings to the clay, or as much as was measured, and fills with fresh still water.
 * @param freshL L, > 0 @param measuredL poured off, L, where somebody measured it
 * @returns the new bath, and the litres and salt poured off
 */
export function changeWater(
  clay: ClayParameters,
  leach: LeachState,
  freshL: number,
  measuredL?: number,
): { leach: LeachState; pouredOffL: number; saltOff: number } {
  requirePositive(freshL, 'the fresh water');
  const pouredOffL =
    measuredL === undefined ? (1 - clay.retained) * leach.waterL : Math.min(Math.max(0, measuredL), leach.waterL);
  const staysL = leach.waterL - pouredOffL;
  const waterL = staysL + freshL;
  return {
    leach: { ...leach, waterL, ppm: (leach.ppm * staysL) / waterL },
    pouredOffL,
    saltOff: leach.ppm * pouredOffL,
  };
}
