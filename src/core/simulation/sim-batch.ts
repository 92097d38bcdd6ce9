import { normal, type Random } from '../statistics/index.ts';
import { doseSim, mixSim, type SimSolution } from './sim-solution.ts';

/** The truth of a product's bottle: what 1 mL (of a solid: 1 g) in 1 L adds. */
export type SimProduct = {
  readonly idealEcPerMlL: number;
  readonly alkalinityMeqPerMl: number;
  readonly phosphateMmolPerMl: number;
  /** Of a carbonate: half of what alkali it brings comes with carbon. */
  readonly carbonMmolPerMl?: number;
  readonly silicaMmolPerMl?: number;
  readonly citrateMmolPerMl?: number;
};

/** A bucket: its volume in L and what is in it. */
export type SimBatch = { readonly volumeL: number; readonly solution: SimSolution };

/** 1 SD of a hand: doses, drops and poured volumes, as a share. */
export const HAND_SD = Object.freeze({ dose: 0.04, volume: 0.015 });

/** Plain water drawn by the jug: a little more or less than was meant. */
export function drawWater(water: SimSolution, volumeL: number, random: Random): SimBatch {
  return { volumeL: volumeL * (1 + HAND_SD.volume * normal(random)), solution: water };
}

/** Stirs in a dose, poured with an unsteady hand. */
export function stirIn(batch: SimBatch, product: SimProduct, doseMl: number, random: Random): SimBatch {
  const perL = (doseMl * Math.max(0, 1 + HAND_SD.dose * normal(random))) / batch.volumeL;
  return {
    volumeL: batch.volumeL + doseMl / 1000,
    solution: doseSim(batch.solution, {
      idealEcUsCm: perL * product.idealEcPerMlL,
      alkalinityMeqL: perL * product.alkalinityMeqPerMl,
      carbonMmolL: perL * (product.carbonMmolPerMl ?? 0),
      phosphateMmolL: perL * product.phosphateMmolPerMl,
      silicaMmolL: perL * (product.silicaMmolPerMl ?? 0),
      citrateMmolL: perL * (product.citrateMmolPerMl ?? 0),
    }),
  };
}

/** Pours off, then tops up with water. */
export function thinSim(batch: SimBatch, pourOffL: number, addL: number, water: SimSolution, random: Random): SimBatch {
  const keptL = Math.max(0.01, batch.volumeL - pourOffL);
  const added = drawWater(water, addL, random);
  return { volumeL: keptL + added.volumeL, solution: mixSim(batch.solution, keptL, added.solution, added.volumeL) };
}
