import { DomainError } from '../quantity/index.ts';

/**
 * Rates at which salt comes out of clay, per hour: one grid for every clay, from a diffusivity of 3·10⁻¹² m²/s in grains of 8 mm to surface
 * water. A clay is so much capacity at each of them; a sphere with a skin, two pools or a spread of grains are all such spectra.
 */
export const RATES: readonly number[] = Object.freeze(
  Array.from({ length: 14 }, (_, k) => 2e-4 * Math.pow(4 / 2e-4, k / 13)),
);
const STEP = Math.log(RATES[1]! / RATES[0]!);

/** Puts shares at any rates on the grid: each on the two rates beside it, by the logarithm. They sum to 1. */
export function onGrid(parts: readonly { readonly rate: number; readonly share: number }[]): number[] {
  const weights = new Array<number>(RATES.length).fill(0);
  for (const { rate, share } of parts) {
    const at = Math.min(RATES.length - 1, Math.max(0, Math.log(rate / RATES[0]!) / STEP));
    const low = Math.min(RATES.length - 2, Math.floor(at));
    weights[low]! += share * (low + 1 - at);
    weights[low + 1]! += share * (at - low);
  }
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / sum);
}

/** Terms of the series that are kept: the rest comes out at once. */
const TERMS = 10;

/**
 * A sphere that gives off through a skin: rates and shares of Crank's series with a surface resistance (The Mathematics of Diffusion, 2nd ed.,
 * §6.3.4): β cot β = 1 − Bi, share 6 Bi² / (β² (β² + Bi² − Bi)).
 * @param slowest the slowest rate, per hour @param biot resistance inside over that of the skin, > 0
 * @throws DomainError on a rate or a number that is not above zero
 */
export function sphereSeries(slowest: number, biot: number): { rate: number; share: number }[] {
  if (!(slowest > 0 && biot > 0))
    throw new DomainError('out-of-range', 'A sphere gives off at a rate above zero', slowest, 'Check the clay.');
  const parts = [];
  let left = 1;
  let first = 0;
  for (let n = 0; n < TERMS; n++) {
    const beta = rootOf(n, biot);
    first ||= beta ** 2;
    const share = Math.min(left, (6 * biot ** 2) / (beta ** 2 * (beta ** 2 + biot ** 2 - biot)));
    left -= share;
    parts.push({ rate: (slowest * beta ** 2) / first, share });
  }
  // What the series leaves is gone before anyone reads.
  parts.push({ rate: RATES.at(-1)!, share: Math.max(0, left) });
  return parts;
}

/** The n-th root of β cos β = (1 − Bi) sin β, between nπ and (n + 1)π, by halving. */
function rootOf(n: number, biot: number): number {
  const f = (beta: number) => beta * Math.cos(beta) - (1 - biot) * Math.sin(beta);
  let [low, high] = [n * Math.PI + 1e-9, (n + 1) * Math.PI - 1e-12];
  const sign = Math.sign(f(low + 1e-6)) || 1;
  for (let i = 0; i < 48; i++) {
    const middle = (low + high) / 2;
    if (Math.sign(f(middle)) === sign) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Grains of many sizes: every rate spread over a lognormal of this SD. */
export function spreadOver(
  parts: readonly { readonly rate: number; readonly share: number }[],
  sd: number,
): { rate: number; share: number }[] {
  if (sd < 0.05) return [...parts];
  const points = [
    [-1.8, 0.16],
    [-0.7, 0.34],
    [0.7, 0.34],
    [1.8, 0.16],
  ] as const;
  return parts.flatMap(({ rate, share }) =>
    points.map(([z, weight]) => ({ rate: rate * Math.exp(z * sd), share: share * weight })),
  );
}
