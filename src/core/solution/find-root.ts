/** Steps after which any bracket is as narrow as doubles allow when every third one halves it: 3 × 64. */
const MOST_STEPS = 200;

export type Root = {
  readonly x: number;
  readonly residual: number;
  readonly steps: number;
  readonly converged: boolean;
};

/**
 * Root of a continuous function inside a bracket: secant steps by the Illinois rule (Dowell & Jarratt 1971), and every third step a halving, so
 * that it always ends.
 * @param f changes sign between `low` and `high`, or one end is taken: the nearer to zero, not converged
 * @param tolerance of x, absolute
 */
export function findRoot(f: (x: number) => number, low: number, high: number, tolerance: number): Root {
  let [a, b] = [low, high];
  let [fa, fb] = [f(a), f(b)];
  if (fa === 0) return { x: a, residual: 0, steps: 0, converged: true };
  if (fb === 0) return { x: b, residual: 0, steps: 0, converged: true };
  if (fa > 0 === fb > 0) {
    return Math.abs(fa) < Math.abs(fb)
      ? { x: a, residual: fa, steps: 0, converged: false }
      : { x: b, residual: fb, steps: 0, converged: false };
  }
  for (let steps = 1; steps <= MOST_STEPS; steps++) {
    const halve = steps % 3 === 0;
    const secant = (a * fb - b * fa) / (fb - fa);
    const x = halve || !Number.isFinite(secant) ? (a + b) / 2 : secant;
    const fx = f(x);
    if (fx === 0 || Math.abs(b - a) < tolerance) return { x, residual: fx, steps, converged: true };
    if (fx > 0 === fb > 0) {
      b = x;
      fb = fx;
      fa /= 2;
    } else {
      a = x;
      fa = fx;
      fb /= 2;
    }
  }
  return { x: (a + b) / 2, residual: f((a + b) / 2), steps: MOST_STEPS, converged: false };
}
