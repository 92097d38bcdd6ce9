import { addComposition, anchoredAt, composition, solve, type Composition } from '../solution/index.ts';
import { requirePositive } from '../quantity/index.ts';

/** So much of an acid or alkali that went in: mmol per mL of the product as bought, mL of it in each litre. */
export type Stirred = { readonly perMl: Composition; readonly mlPerL: number };
/** A pH reading, with everything that had gone in by then. `sd` is 1 SD of it. */
export type PhSeen = { readonly ph: number; readonly sd: number; readonly after: readonly Stirred[] };

/** A pH pen that is in order: 0.05, and four times that where hardly anything conducts (science of glass electrodes in pure water). */
export const PEN_PH_SD = 0.05;
export const PURE_WATER_PH_SD = 0.2;
/** Below it a glass electrode wanders, µS/cm. */
export const PURE_BELOW_EC = 50;

/** 1 SD of a pH read by pen in a solution that conducts so much. @param ecUsCm ≥ 0 */
export function penPhSd(ecUsCm: number): number {
  return ecUsCm < PURE_BELOW_EC ? PURE_WATER_PH_SD : PEN_PH_SD;
}

/** One way the batch may stand: strong alkali more than was thought (meq/L, below zero acid), and how much stronger a dose acts than its label. */
export type Hypothesis = { readonly shiftMeqL: number; readonly response: number; readonly weight: number };

/** Nodes of the response, in standard deviations, with the weight each has before any reading (normal, unit spacing a half). */
const NODES = Array.from({ length: 17 }, (_, i) => -2.4 + 0.3 * i);
/** A bottle that is half or twice its label: unlikely beforehand, told by a second reading. Response, and the logarithm of its weight. */
const OFF_LABEL: readonly (readonly [number, number])[] = [
  [0.4, -5],
  [0.55, -5],
  [1.8, -5],
  [2.5, -5],
];
/** Three-point Gauss–Hermite rule of a normal: exact to the fifth power. */
const SPREAD: readonly (readonly [number, number])[] = [
  [-Math.sqrt(3), 1 / 6],
  [0, 2 / 3],
  [Math.sqrt(3), 1 / 6],
];
/** Carbon and stirring move a bucket a little between two readings: 1 SD of pH beside the pen's own. */
const BETWEEN_READINGS_SD = 0.02;
/** A half-step of pH over which the buffering is taken. */
const BUFFER_STEP = 0.05;

/**
 * How the batch stands after its pH readings: a table of ways with weights, from which any dose can be judged. Each reading says, for every
 * response the acid may have, how much alkali there must be; where two readings agree, that response is believed.
 * @param total what is thought to be in it before any acid, mmol/L
 * @param alkalinitySd of that, meq/L, 1 SD
 * @param responseSd how far a dose may act more or less than its label (log, 1 SD): the bottle, the hand, the buffering that nobody tested
 * @returns at most 63 ways, weights adding to 1
 */
export function hypothesesOf(
  total: Composition,
  alkalinitySd: number,
  responseSd: number,
  seen: readonly PhSeen[],
): Hypothesis[] {
  requirePositive(responseSd, 'the spread of the response');
  const dosed = seen.some((s) => s.after.length > 0);
  const usual = (dosed ? NODES : NODES.filter((_, i) => i % 4 === 0)).map(
    (z) => [Math.exp(z * responseSd), -(z ** 2) / 2] as const,
  );
  const ways: { response: number; shift: number; sd: number; log: number }[] = [];
  for (const [response, before] of dosed ? [...usual, ...OFF_LABEL] : usual) {
    let precision = 1 / Math.max(alkalinitySd, 1e-3) ** 2;
    let shift = 0;
    let log = before;
    for (const reading of seen) {
      const mix = withDoses(total, reading.after, response);
      const implied = shiftTo(mix, reading.ph);
      if (implied === undefined) {
        log -= CANNOT_BE;
        continue;
      }
      const sd = Math.max(1e-5, bufferingAt(mix, implied) * Math.hypot(reading.sd, BETWEEN_READINGS_SD));
      const innovation = sd ** 2 + 1 / precision;
      log += -((implied - shift) ** 2) / (2 * innovation) - Math.log(innovation) / 2;
      const gained = 1 / sd ** 2;
      shift = (shift * precision + implied * gained) / (precision + gained);
      precision += gained;
    }
    ways.push({ response, shift, sd: Math.sqrt(1 / precision), log });
  }
  const most = Math.max(...ways.map((w) => w.log));
  const weights = ways.map((w) => Math.exp(w.log - most));
  const sum = weights.reduce((a, b) => a + b, 0);
  return ways.flatMap((way, i) => {
    const weight = weights[i]! / sum;
    // A way that holds less than a thousandth says nothing about the dose.
    return weight < 1e-3
      ? []
      : SPREAD.map(([z, w]) => ({ shiftMeqL: way.shift + z * way.sd, response: way.response, weight: weight * w }));
  });
}

/** The batch one way, with what went in and so much more of a product: mmol/L. */
export function hypothesesWith(
  total: Composition,
  standing: Hypothesis,
  after: readonly Stirred[],
  more?: Stirred,
): Composition {
  return shifted(withDoses(total, more ? [...after, more] : after, standing.response), standing.shiftMeqL);
}

function withDoses(total: Composition, doses: readonly Stirred[], response: number): Composition {
  return doses.reduce((c, d) => addComposition(c, d.perMl, d.mlPerL * response), total);
}

/** Whether a mix can have read so at all, with what was stirred in by then. */
export const canRead = (total: Composition, { after, ph }: PhSeen): boolean =>
  shiftTo(withDoses(total, after, 1), ph) !== undefined;

/** A reading that a hypothesis cannot have speaks against it, and tells nothing else. */
const CANNOT_BE = 50;

/** meq/L of strong alkali (below zero: acid) by which a solution has a pH; undefined where it cannot have it. */
function shiftTo(total: Composition, ph: number): number | undefined {
  const there = anchoredAt(total, ph);
  return there && there.K - total.K - (there.Cl - total.Cl);
}

/** meq/L that move the pH by one, where the solution stands. */
function bufferingAt(total: Composition, shift: number): number {
  const here = solve(shifted(total, shift));
  if (!here.ok) return 1;
  const step = Math.max(1e-4, 0.01 * Math.abs(shift), 0.002);
  const [low, high] = [solve(shifted(total, shift - step)), solve(shifted(total, shift + step))];
  if (!low.ok || !high.ok || !(high.ph - low.ph > 1e-6)) return 1;
  return (2 * step) / Math.max(high.ph - low.ph, BUFFER_STEP * 1e-3);
}

function shifted(c: Composition, meqL: number): Composition {
  return addComposition(c, composition(meqL > 0 ? { K: meqL } : { Cl: -meqL }));
}
