import { DomainError } from '../quantity/index.ts';
import { scaleComposition, type Composition } from '../solution/index.ts';
import { chargesOf } from './charges.ts';

/*
 * The reduced chemistry of what stands in a pot. A solution is solved once in full; with its activities and free metals held, what strong
 * alkali takes it to any pH is a plain sum, kept as a table. Concentration, alkali gained and carbon lost then cost an addition and a walk
 * along the table: a hundred thousand pot-days in the time of thirty full solves.
 */

/** The pH axis of every curve. */
const FROM_PH = 3.2;
const STEP_PH = 0.05;
const POINTS = 147;
/** Where a search begins that knows nothing. */
export const MIDDLE_INDEX = 64;

/** A solution as its alkali titrates: every array over the pH axis. Value object: never written after it is made. */
export type TitrationCurve = {
  /** Strong alkali, meq/L, that brings it to a pH without carbon and without the water's own H and OH; zero where it was made to stand. */
  readonly strong: Float64Array;
  /** The same at twice the strength, per unit of strength: ions shield each other more. */
  readonly strongAtTwice: Float64Array;
  /** meq of charge that a mmol of inorganic carbon carries, and the same at twice the strength. */
  readonly carbonCharge: Float64Array;
  readonly carbonChargeAtTwice: Float64Array;
  /** Share of the inorganic carbon that is CO2, free to leave. */
  readonly carbonGas: Float64Array;
  /** Charge of the carbon that rests in open air at a pH, meq/L, and the same at twice the strength. */
  readonly rest: Float64Array;
  readonly restAtTwice: Float64Array;
  /** OH less H, meq/L. */
  readonly water: Float64Array;
  /** Dissolved CO2 at rest with open air, mmol/L. */
  readonly restCo2MmolL: number;
  /** As it was made: inorganic carbon, mmol/L, and conductivity, µS/cm. */
  readonly carbonMmolL: number;
  readonly ecUsCm: number;
  /** As it was made: charge of its strong ions, cations less anions, meq/L; ammonium with urea, and nitrate, mmol/L. */
  readonly strongIonsMeqL: number;
  readonly ammoniumMmolL: number;
  readonly nitrateMmolL: number;
};

/** How a solution stands on its curve: so many times its strength, with so much alkali gained (meq/L, acid below zero) and so much carbon (mmol/L). */
export type PotSolution = { readonly strength: number; readonly alkaliMeqL: number; readonly carbonMmolL: number };

const phAtIndex = (i: number) => FROM_PH + STEP_PH * i;

/**
 * The curve of a solution.
 * @param total mmol/L, within the model of {@link solve}
 * @throws DomainError `out-of-range` where the full chemistry has no answer (a concentrate)
 */
export function curveOf(total: Composition): TitrationCurve {
  const once = chargesOf(total);
  const twice = chargesOf(scaleComposition(total, 2));
  const strong = new Float64Array(POINTS);
  const strongAtTwice = new Float64Array(POINTS);
  for (let i = 0; i < POINTS; i++) {
    strong[i] = once.charge(phAtIndex(i)) + once.pin;
    strongAtTwice[i] = (twice.charge(phAtIndex(i)) + twice.pin) / 2;
  }
  const over = (of: (ph: number) => number) => Float64Array.from({ length: POINTS }, (_, i) => of(phAtIndex(i)));
  return {
    strong,
    strongAtTwice,
    carbonCharge: over(once.carbonCharge),
    carbonChargeAtTwice: over(twice.carbonCharge),
    carbonGas: over(once.carbonGas),
    rest: over((ph) => (once.restCo2MmolL / once.carbonGas(ph)) * once.carbonCharge(ph)),
    restAtTwice: over((ph) => (once.restCo2MmolL / once.carbonGas(ph)) * twice.carbonCharge(ph)),
    water: over(once.water),
    restCo2MmolL: once.restCo2MmolL,
    carbonMmolL: total.CO2,
    ecUsCm: once.ecUsCm,
    strongIonsMeqL: -once.pin,
    ammoniumMmolL: total.NH4 + 2 * total.urea,
    nitrateMmolL: total.NO3,
  };
}

/** Blends curves by volume; the shielding of ions is blended too, which is good to some hundredths of a pH. @param parts volumes in any one unit */
export function blendCurves(
  parts: readonly { readonly volume: number; readonly of: TitrationCurve; readonly standing?: PotSolution }[],
): TitrationCurve {
  const whole = parts.reduce((sum, { volume }) => sum + volume, 0);
  if (!(whole > 0)) throw new DomainError('out-of-range', 'A blend has no volume', whole, 'Give a volume above zero.');
  const strong = new Float64Array(POINTS);
  const strongAtTwice = new Float64Array(POINTS);
  let [carbonMmolL, ecUsCm, strongIonsMeqL, ammoniumMmolL, nitrateMmolL] = [0, 0, 0, 0, 0];
  let main = parts[0]!;
  for (const part of parts) {
    if (part.volume > main.volume) main = part;
    const { of, standing = asMade(of) } = part;
    const share = part.volume / whole;
    const { strength, alkaliMeqL } = standing;
    const [once, twice] = [along(strength), along(2 * strength)];
    for (let i = 0; i < POINTS; i++) {
      const rise = of.strongAtTwice[i]! - of.strong[i]!;
      strong[i]! += share * (strength * (of.strong[i]! + rise * once) - alkaliMeqL);
      strongAtTwice[i]! += share * (strength * (of.strong[i]! + rise * twice) - alkaliMeqL);
    }
    carbonMmolL += share * standing.carbonMmolL;
    ecUsCm += share * strength * of.ecUsCm;
    strongIonsMeqL += share * (strength * of.strongIonsMeqL + alkaliMeqL);
    ammoniumMmolL += share * strength * of.ammoniumMmolL;
    nitrateMmolL += share * strength * of.nitrateMmolL;
  }
  return {
    ...main.of,
    strong,
    strongAtTwice,
    carbonMmolL,
    ecUsCm,
    strongIonsMeqL,
    ammoniumMmolL,
    nitrateMmolL,
  };
}

/** A solution as it was made. */
export function asMade(curve: TitrationCurve): PotSolution {
  return { strength: 1, alkaliMeqL: 0, carbonMmolL: curve.carbonMmolL };
}

/** Pure water in air conducts about this much, µS/cm (its CO2): what a pen shows as 0 is never nothing. */
const NOUGHT_EC_US_CM = 1;

/**
 * How many times its strength a solution stands at by its conductivity. A reading of 0, as good still water gives, is taken for pure water in air, so that there
 * is a strength for every reading.
 * @param ecUsCm ≥ 0
 * @returns above 0
 */
export function strengthOf({ ecUsCm: asMadeUsCm }: TitrationCurve, ecUsCm: number): number {
  return Math.max(ecUsCm, NOUGHT_EC_US_CM) / Math.max(asMadeUsCm, NOUGHT_EC_US_CM);
}

/** Between once and twice the strength, by the logarithm. */
function along(strength: number): number {
  return strength <= 0 ? 0 : Math.min(2, Math.max(-1, Math.log2(strength)));
}

/** Strong alkali a unit of strength takes to the i-th pH. */
function strongPerUnit({ strong, strongAtTwice }: TitrationCurve, strength: number, i: number): number {
  return strong[i]! + (strongAtTwice[i]! - strong[i]!) * along(strength);
}

function carbonChargeAt({ carbonCharge, carbonChargeAtTwice }: TitrationCurve, strength: number, i: number): number {
  return carbonCharge[i]! + (carbonChargeAtTwice[i]! - carbonCharge[i]!) * along(strength);
}

/** pH of a solution that stands so, held to the ends of the axis. */
export function standAt(curve: TitrationCurve, { strength, alkaliMeqL, carbonMmolL }: PotSolution): number {
  return phOfIndex(indexOf(curve, strength, alkaliMeqL, carbonMmolL, MIDDLE_INDEX));
}

/** pH at a place on the axis, also between two points. */
export function phOfIndex(index: number): number {
  return FROM_PH + STEP_PH * index;
}

/**
 * Place on the axis at which a solution stands, as a fraction between two points: 1.4 million of these are one forecast of a collection.
 * @param near where the search begins, from the step before: neighbouring days lie close
 * @param share logarithm of the strength to the base of two, where it is known already
 */
export function indexOf(
  curve: TitrationCurve,
  strength: number,
  alkaliMeqL: number,
  carbonMmolL: number,
  near: number,
  share = along(strength),
): number {
  return crossing(curve, curve.carbonCharge, curve.carbonChargeAtTwice, carbonMmolL, strength, alkaliMeqL, near, share);
}

/** Where the alkali balances, with so many times a course of the carbon's charge over the axis. */
function crossing(
  { strong, strongAtTwice, water }: TitrationCurve,
  carbon: Float64Array,
  carbonAtTwice: Float64Array,
  times: number,
  strength: number,
  alkaliMeqL: number,
  near: number,
  share: number,
): number {
  const once = strength * (1 - share);
  const twice = strength * share;
  const carbonOnce = times * (1 - share);
  const carbonTwice = times * share;
  let low = near | 0;
  if (low > POINTS - 2) low = POINTS - 2;
  else if (low < 0) low = 0;
  let high = low + 1;
  let under =
    once * strong[low]! +
    twice * strongAtTwice[low]! +
    carbonOnce * carbon[low]! +
    carbonTwice * carbonAtTwice[low]! +
    water[low]! -
    alkaliMeqL;
  let above =
    once * strong[high]! +
    twice * strongAtTwice[high]! +
    carbonOnce * carbon[high]! +
    carbonTwice * carbonAtTwice[high]! +
    water[high]! -
    alkaliMeqL;
  // Alkali only rises along the axis: one point after the other, since days lie a few points apart.
  while (under > 0 && low > 0) {
    high = low--;
    above = under;
    under =
      once * strong[low]! +
      twice * strongAtTwice[low]! +
      carbonOnce * carbon[low]! +
      carbonTwice * carbonAtTwice[low]! +
      water[low]! -
      alkaliMeqL;
  }
  while (above <= 0 && high < POINTS - 1) {
    low = high++;
    under = above;
    above =
      once * strong[high]! +
      twice * strongAtTwice[high]! +
      carbonOnce * carbon[high]! +
      carbonTwice * carbonAtTwice[high]! +
      water[high]! -
      alkaliMeqL;
  }
  return under > 0 ? low : above <= 0 ? high : low - under / (above - under);
}

/** Alkali (meq/L) with which a solution of a strength and carbon stands at a pH: the inverse of {@link standAt}. @param ph within the axis */
export function alkaliAt(curve: TitrationCurve, strength: number, carbonMmolL: number, ph: number): number {
  return (
    strength * readTable((i) => strongPerUnit(curve, strength, i), ph) +
    readTable((i) => curve.water[i]!, ph) +
    carbonMmolL * readTable((i) => carbonChargeAt(curve, strength, i), ph)
  );
}

/** The same solution with as much alkali as puts it at a pH; where none was read, as it stands. */
export function standingAtPh(curve: TitrationCurve, standing: PotSolution, ph: number | undefined): PotSolution {
  return ph === undefined
    ? standing
    : { ...standing, alkaliMeqL: alkaliAt(curve, standing.strength, standing.carbonMmolL, ph) };
}

/** Inorganic carbon at rest with open air at a pH, mmol/L. */
export function restCarbon(curve: TitrationCurve, ph: number): number {
  return curve.restCo2MmolL / readTable((i) => curve.carbonGas[i]!, ph);
}

/**
 * Place on the axis of a solution at rest with air that holds so many times the open air's CO2.
 * @param near where the search begins
 */
export function restIndex(
  curve: TitrationCurve,
  strength: number,
  alkaliMeqL: number,
  co2: number,
  near: number,
  share = along(strength),
): number {
  return crossing(curve, curve.rest, curve.restAtTwice, co2, strength, alkaliMeqL, near, share);
}

/** Inorganic carbon at rest at a place on the axis, mmol/L, with air that holds so many times the open air's CO2. */
export function carbonAtIndex({ carbonGas, restCo2MmolL }: TitrationCurve, index: number, co2: number): number {
  const low = Math.max(0, Math.min(POINTS - 2, index | 0));
  const part = index - low;
  return co2 * restCo2MmolL * ((1 - part) / carbonGas[low]! + part / carbonGas[low + 1]!);
}

/** Between once and twice the strength, by the logarithm: what the tables are blended by. */
export { along as shieldingAt };

/** The standing of a solution that has come to rest with the air at its alkali. */
export function atRest(
  curve: TitrationCurve,
  strength: number,
  alkaliMeqL: number,
): { readonly standing: PotSolution; readonly ph: number } {
  const standing = {
    strength,
    alkaliMeqL,
    carbonMmolL: restAtAlkali(curve, strength, alkaliMeqL, MIDDLE_INDEX, along(strength)),
  };
  return { standing, ph: standAt(curve, standing) };
}

/** Carbon half of the way to rest with the air, days: a reservoir under a pot, not a stirred bucket (science.md: 12 h). */
export const CARBON_HALF_DAYS = 0.5;

/**
 * Carbon after a stretch of a day in the air: half of the way to where it rests at this alkali, each half day.
 * @param near index where the search begins @param days of the stretch
 */
export function breathe(
  curve: TitrationCurve,
  strength: number,
  alkaliMeqL: number,
  carbonMmolL: number,
  near: number,
  days: number,
  share = along(strength),
): number {
  const rest = restAtAlkali(curve, strength, alkaliMeqL, near, share);
  return rest + (carbonMmolL - rest) * Math.exp((-Math.LN2 / CARBON_HALF_DAYS) * days);
}

/** Inorganic carbon at rest with the air for an alkali, mmol/L: carbon and pH found together. */
function restAtAlkali(
  curve: TitrationCurve,
  strength: number,
  alkaliMeqL: number,
  near: number,
  share: number,
): number {
  return carbonAtIndex(curve, restIndex(curve, strength, alkaliMeqL, 1, near, share), 1);
}

function readTable(of: (i: number) => number, ph: number): number {
  const position = Math.min(POINTS - 1, Math.max(0, (ph - FROM_PH) / STEP_PH));
  const i = Math.min(POINTS - 2, Math.floor(position));
  return of(i) + (of(i + 1) - of(i)) * (position - i);
}
