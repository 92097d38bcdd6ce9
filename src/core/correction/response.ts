import { addComposition, alkalinityMeqL, anchoredAt, composition, solve, type Composition } from '../solution/index.ts';
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

/**
 * One way the batch may stand: bicarbonate of the water more than was thought (mmol/L), strong alkali besides (meq/L, below zero acid), and how
 * much stronger a dose acts than its label.
 */
export type Hypothesis = {
  readonly carbonate: number;
  readonly shiftMeqL: number;
  readonly response: number;
  readonly weight: number;
};

/** What is known of a batch before and after its doses. */
export type PhBatch = {
  /** What is thought to be in it before any acid, mmol/L, and 1 SD of its alkalinity, meq/L. */
  readonly total: Composition;
  readonly alkalinitySd: number;
  /** 1 SD (log) of how a dose acts against its label; see {@link responseSdOf}. */
  readonly responseSd: number;
  /** 1 SD of the bicarbonate its water brings, mmol/L. */
  readonly carbonateSd: number;
  /** Every reading so far, oldest first. */
  readonly seen: readonly PhSeen[];
};

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
/** So many ways are spread enough by themselves: each stands for its middle. */
const MANY_WAYS = 40;
/** A way that holds less says nothing about the dose. */
const LEAST_WEIGHT = 2e-3;
/** Carbon and stirring move a bucket a little between two readings: 1 SD of pH beside the pen's own. */
const BETWEEN_READINGS_SD = 0.02;
/** 1 SD of one dose measured out by hand, as a share of it, beside what its bottle has against its label. From memory. */
export const HAND_SD = 0.025;
/** A half-step of pH over which the buffering is taken. */
const BUFFER_STEP = 0.05;
/** Least carbonate a water is thought to have, mmol/L. */
const LEAST_CARBONATE = 0.02;
/** Where doubt about a water's carbonate is a smaller share of it than this, the response carries it. */
export const CARBONATE_WELL_KNOWN = 0.12;
const WATERS = 8;

/**
 * How the batch stands after its pH readings: a table of ways with weights, from which any dose can be judged. Each reading says, for every
 * water it may be made with and every response the acid may have, how much alkali there must be; where two readings agree, that is believed.
 * @returns weights adding to 1
 */
export function hypothesesOf({ total, alkalinitySd, responseSd, carbonateSd, seen }: PhBatch): Hypothesis[] {
  requirePositive(responseSd, 'the spread of the response');
  const waters = watersOf(total.CO2, carbonateSd);
  const responses = responsesOf(
    responseSd,
    seen.some((s) => s.after.length > 0),
    waters.length > 1,
  );
  const said = seen.map((reading) => ({
    reading,
    at: sayingOf(
      total,
      reading,
      waters.map((w) => w.carbonate),
      responses.map((r) => r.response),
    ),
  }));
  const ways = waters.flatMap(({ carbonate, log: water }) =>
    responses.map(({ response, log }) => ({
      carbonate,
      response,
      ...standingBy(said, { carbonate, response }, alkalinitySd, water + log),
    })),
  );
  const most = Math.max(...ways.map((w) => w.log));
  const sum = ways.reduce((all, w) => all + Math.exp(w.log - most), 0);
  const held = ways
    .map((way) => ({ ...way, weight: Math.exp(way.log - most) / sum }))
    .filter((way) => way.weight >= LEAST_WEIGHT);
  const kept = held.reduce((all, way) => all + way.weight, 0);
  const spread = held.length > MANY_WAYS ? ([[0, 1]] as const) : SPREAD;
  return held.flatMap(({ carbonate, response, shift, sd, weight }) =>
    spread.map(([z, w]) => ({ carbonate, response, shiftMeqL: shift + z * sd, weight: (weight / kept) * w })),
  );
}

/** What a reading says of a water and a response: the strong alkali more than was thought, and meq/L that move its pH by one; undefined where it cannot be. */
type Said = { readonly shift: number; readonly buffering: number } | undefined;
type Saying = (way: Pick<Hypothesis, 'carbonate' | 'response'>) => Said;

/**
 * What a reading says of every water and response. At one pH the alkali that must be there is a sum over weak acids, each in proportion to how much of
 * it there is: reckoned at the ends (and at the label's own strength), it lies between them on a line.
 */
function sayingOf(
  total: Composition,
  reading: PhSeen,
  carbonates: readonly number[],
  responses: readonly number[],
): Saying {
  const exactly: Saying = ({ carbonate, response }) => {
    const mix = withDoses(withCarbonate(total, carbonate), reading.after, response);
    const shift = shiftTo(mix, reading.ph);
    return shift === undefined ? undefined : { shift, buffering: bufferingAt(mix, shift) };
  };
  const xs = endsOf(carbonates);
  const rs = reading.after.length === 0 ? [1] : endsOf([...responses, 1], 1);
  const table = xs.map((carbonate) => rs.map((response) => exactly({ carbonate, response })));
  if (table.some((row) => row.includes(undefined))) return exactly;
  return ({ carbonate, response }) => {
    const [x, r] = [between(xs, carbonate), between(rs, response)];
    const of = (key: 'shift' | 'buffering') => {
      const along = (row: readonly Said[]) => row[r.at]![key] + r.share * (row[r.next]![key] - row[r.at]![key]);
      const [from, to] = [along(table[x.at]!), along(table[x.next]!)];
      return from + x.share * (to - from);
    };
    return { shift: of('shift'), buffering: of('buffering') };
  };
}

/** Least and most of them, and a middle. */
const endsOf = (values: readonly number[], middle?: number): number[] =>
  [...new Set([Math.min(...values), ...(middle === undefined ? [] : [middle]), Math.max(...values)])].sort(
    (a, b) => a - b,
  );

/** Between which of some rising values one lies, and how far along. */
function between(values: readonly number[], value: number): { at: number; next: number; share: number } {
  const at = Math.max(
    0,
    values.findLastIndex((v) => v <= value),
  );
  const next = Math.min(values.length - 1, at + 1);
  const wide = values[next]! - values[at]!;
  return { at, next, share: wide > 0 ? (value - values[at]!) / wide : 0 };
}

/** Strong alkali more than was thought by one water and response, after every reading, and how well they fit. */
function standingBy(
  seen: readonly { readonly reading: PhSeen; readonly at: Saying }[],
  way: Pick<Hypothesis, 'carbonate' | 'response'>,
  alkalinitySd: number,
  before: number,
) {
  let [precision, shift, log] = [1 / Math.max(alkalinitySd, 1e-3) ** 2, 0, before];
  for (const { reading, at } of seen) {
    const said = at(way);
    if (said === undefined) {
      log -= CANNOT_BE;
      continue;
    }
    const implied = said.shift;
    const ofPh = said.buffering * Math.hypot(reading.sd, BETWEEN_READINGS_SD);
    const sd = Math.max(1e-5, Math.hypot(ofPh, handSdOf(reading.after, way.response)));
    const innovation = sd ** 2 + 1 / precision;
    log += -((implied - shift) ** 2) / (2 * innovation) - Math.log(innovation) / 2;
    const gained = 1 / sd ** 2;
    shift = (shift * precision + implied * gained) / (precision + gained);
    precision += gained;
  }
  return { shift, sd: Math.sqrt(1 / precision), log };
}

/** Responses the acid may have, with the logarithm of the weight each has beforehand: few before a dose, and where the water is open too. */
function responsesOf(sd: number, dosed: boolean, waterOpen: boolean): { response: number; log: number }[] {
  const every = dosed ? (waterOpen ? 2 : 1) : 4;
  const usual = NODES.filter((_, i) => i % every === 0).map((z) => ({
    response: Math.exp(z * sd),
    log: -(z ** 2) / 2,
  }));
  return dosed ? [...usual, ...OFF_LABEL.map(([response, log]) => ({ response, log }))] : usual;
}

/** Waters it may be: bicarbonate more than was thought, with the logarithm of the weight each has beforehand. */
function watersOf(thought: number, sd: number): { carbonate: number; log: number }[] {
  if (sd <= CARBONATE_WELL_KNOWN * thought) return [{ carbonate: 0, log: 0 }];
  const low = Math.max(LEAST_CARBONATE, thought - 2.4 * sd);
  const high = Math.max(LEAST_CARBONATE * 2, thought + 2.4 * sd);
  return Array.from({ length: WATERS }, (_, i) => {
    const there = low * (high / low) ** ((i + 0.5) / WATERS);
    // Nodes lie in proportion: each stands for so much of the line as it is large.
    return { carbonate: there - thought, log: Math.log(there) - ((there - thought) / sd) ** 2 / 2 };
  });
}

/** The same with more bicarbonate, or with less. */
const withCarbonate = (c: Composition, more: number): Composition =>
  more === 0 ? c : shifted({ ...c, CO2: c.CO2 + more }, more);

/** 1 SD of the acid or alkali that hands may have given more or less, meq/L. */
const handSdOf = (doses: readonly Stirred[], response: number) =>
  HAND_SD * response * Math.hypot(0, ...doses.map((d) => d.mlPerL * alkalinityMeqL(d.perMl)));

/** The batch one way, with what went in and so much more of a product: mmol/L. */
export function hypothesesWith(
  total: Composition,
  standing: Pick<Hypothesis, 'carbonate' | 'response' | 'shiftMeqL'>,
  after: readonly Stirred[],
  more?: Stirred,
): Composition {
  const water = withCarbonate(total, standing.carbonate);
  return shifted(withDoses(water, more ? [...after, more] : after, standing.response), standing.shiftMeqL);
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
