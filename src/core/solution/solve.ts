import { DomainError } from '../quantity/index.ts';
import { alkalinityMeqL, type Composition } from './composition.ts';
import { conductivityUsCm } from './conductivity.ts';
import { constantsAt, TEMPERATURE_LIMITS } from './constants.ts';
import { saturationOf, type Saturation } from './saturation.ts';
import { speciate, type Air, type SpeciationFailure } from './speciate.ts';
import type { SpeciesTable } from './species.ts';

/** CO2 in open air, atm (about 420 ppm). */
export const AIR_PCO2 = 4.2e-4;
export const CLOSED: Air = Object.freeze({ kind: 'closed' });
export const OPEN: Air = Object.freeze({ kind: 'open', pCo2: AIR_PCO2 });

/** Davies holds to 0.1 mol/L; to 0.15 it is a warning; above, nothing is said. */
export const STRENGTH_WARNED = 0.1;
export const STRENGTH_REFUSED = 0.15;

export type Solved = {
  readonly ok: true;
  readonly ph: number;
  /** µS/cm at 25 °C */
  readonly ecUsCm: number;
  /** mol/L */
  readonly ionicStrength: number;
  readonly alkalinityMeqL: number;
  /** All inorganic carbon, mmol/L: what was given when closed, what air leaves when open. */
  readonly carbonMmolL: number;
  /** mmol/L */
  readonly species: SpeciesTable;
  readonly saturation: Saturation;
  /** Past 0.1 mol/L: figures grow doubtful. */
  readonly doubtful: boolean;
  readonly residualMmolL: number;
  readonly rounds: number;
};
/** A solution the model does not reach: said in words, and never a number. */
export type Outside = { readonly ok: false; readonly why: SpeciationFailure; readonly message: string };

const MESSAGES: Record<SpeciationFailure, string> = {
  tooStrong: 'Too strong for the model: it holds for solutions, not for concentrates. Thin it before asking.',
  tooAcid: 'More acid than pH 2: outside the model. Treat it as a concentrate.',
  tooAlkaline: 'More alkaline than pH 12: outside the model. Treat it as a concentrate.',
  notConverged: 'No answer was found for this solution. Check its figures.',
};

/**
 * Solves a solution: pH, conductivity, what floats in it and what would drop out.
 * Activities by Davies, acid–base and ion pairs of docs/science.md, conductivity by Onsager's law for mixtures.
 * @param total totals, mmol/L
 * @param air closed (just stirred), or open to air long enough to be at rest with it (tomorrow)
 * @param temperatureC 5 to 35
 * @returns the solution, or why it is outside the model: stronger than 0.15 mol/L, or beyond pH 2 to 12
 * @throws DomainError `out-of-range` for a temperature outside 5 to 35 °C
 * @example solve(composition({ K: 10, Cl: 10 }), CLOSED) // 1413 µS/cm within 1.5 %
 */
export function solve(total: Composition, air: Air = CLOSED, temperatureC = 25): Solved | Outside {
  if (!(temperatureC >= TEMPERATURE_LIMITS.low && temperatureC <= TEMPERATURE_LIMITS.high)) {
    throw new DomainError(
      'out-of-range',
      'The chemistry is known from 5 to 35 °C',
      temperatureC,
      'Let the water come to room temperature.',
    );
  }
  const constants = constantsAt(temperatureC);
  const found = speciate(total, air, constants);
  if (typeof found === 'string') return outside(found);
  if (found.ionicStrength > STRENGTH_REFUSED) return outside('tooStrong');
  const { species, ionicStrength } = found;
  const carbonMmolL =
    air.kind === 'closed'
      ? total.CO2
      : species.CO2 + species.HCO3 + species.CO3 + species.CaHCO3 + species.MgHCO3 + species.CaCO3 + species.MgCO3;
  return {
    ok: true,
    ph: found.ph,
    ecUsCm: conductivityUsCm(species, ionicStrength),
    ionicStrength,
    alkalinityMeqL: alkalinityMeqL(total),
    carbonMmolL,
    species,
    saturation: saturationOf(species, ionicStrength, constants),
    doubtful: ionicStrength > STRENGTH_WARNED,
    residualMmolL: found.residualMmolL,
    rounds: found.rounds,
  };
}

function outside(why: SpeciationFailure): Outside {
  return { ok: false, why, message: MESSAGES[why] };
}

/** The solution after standing open: its carbon as the air leaves it. */
export function afterStanding(total: Composition, temperatureC = 25): Composition {
  const solved = solve(total, OPEN, temperatureC);
  return solved.ok ? { ...total, CO2: solved.carbonMmolL } : total;
}
