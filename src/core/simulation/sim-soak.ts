import { doseSim, mixSim, type SimSolution } from './sim-solution.ts';
import type { SimPot, SimPotNature } from './sim-pot.ts';

/** Of the quick alkali so much comes by the minute: a stretched course, since grains of many sizes give it off. */
const STRETCH = 0.7;
const MINUTES = 20;
/** Neutral salts come off beside it, µS/cm for each meq/L. */
const SALTS_PER_MEQ = 130;
/** Share of the water in the pores that mixes into a filling at once. */
const TOUCHED = 0.6;

/** What a pen reads in a pot that was filled with its holes taped, so many minutes later. @param fillMl poured in */
export function soakSim(
  pot: SimPot,
  nature: SimPotNature,
  fill: SimSolution,
  fillMl: number,
  minutes: number,
): SimSolution {
  const body = mixSim(fill, fillMl, pot.pores, TOUCHED * nature.poreMl);
  const litres = (fillMl + TOUCHED * nature.poreMl) / 1000;
  const given = (at: number) => 1 - Math.exp(-((at / MINUTES) ** STRETCH));
  const alkalinityMeqL = ((nature.quickUeq ?? LEAST_UEQ) * (given(minutes) / given(60))) / 1000 / litres;
  return doseSim(body, { alkalinityMeqL, idealEcUsCm: alkalinityMeqL * SALTS_PER_MEQ, carbonMmolL: 0 });
}

/** Even quiet clay gives a little in an hour, µeq. */
const LEAST_UEQ = 3;
