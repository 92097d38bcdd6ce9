import { requirePositive } from '../quantity/index.ts';
import type { Aim } from './aim.ts';
import { finestStepMl, MOST_DROPS, type Granules, type Tool } from './tool.ts';

/** A solid dissolved in hot water first: so many grams in so many mL. */
export type Stock = { readonly grams: number; readonly waterMl: number };

/** Weights and jugs one makes a stock with; more water than a gram in four mL wants dissolves without coaxing (Epsom salt takes 0.7 g/mL cold). */
const GRAMS = [0.5, 1, 2, 3, 5, 10, 15, 20, 30, 50, 75, 100, 150, 200, 300, 500] as const;
const WATERS_ML = [50, 100, 200, 250, 500, 1000, 2000] as const;
const LEAST_ML_PER_G = 4;
/** A weight is good to a twentieth when it is twenty steps of the scale. */
const LEAST_SCALE_STEPS = 20;
/** Something is always left over of a stock. */
const SPARE = 1.2;

/**
 * The smallest stock of a solid that can be weighed, dissolves easily, lasts for the batch, and of which one step of the finest tool moves
 * the batch by no more than half its band.
 * @param strengthEcPerGL µS/cm of 1 g in 1 L @param stepG smallest step of the scale, g @param batches how many like this one it should last for
 * @returns undefined where nothing of that size will do
 */
export function planStock(
  strengthEcPerGL: number,
  volumeL: number,
  aim: Aim,
  tools: readonly Tool[],
  stepG: number,
  batches = 1,
): Stock | undefined {
  requirePositive(strengthEcPerGL, 'the strength');
  requirePositive(volumeL, 'the batch');
  requirePositive(stepG, "the scale's step");
  const enough = fits(strengthEcPerGL, volumeL, aim, tools, batches);
  const weighable = GRAMS.filter((grams) => grams >= LEAST_SCALE_STEPS * stepG);
  return enough(weighable);
}

/** The first of some weights that is enough, with the water it is dissolved in. */
function fits(strengthEcPerGL: number, volumeL: number, aim: Aim, tools: readonly Tool[], batches: number) {
  const neededG = (batches * aim.netEcUsCm * volumeL) / strengthEcPerGL;
  const half = (aim.highEcUsCm - aim.lowEcUsCm) / 2;
  return (weights: readonly number[]): Stock | undefined => {
    for (const grams of weights) {
      if (grams < SPARE * neededG) continue;
      for (const waterMl of WATERS_ML) {
        const mlPerG = waterMl / grams;
        const stepMoves = (finestStepMl(tools) * strengthEcPerGL) / mlPerG / volumeL;
        if (mlPerG >= LEAST_ML_PER_G && stepMoves <= half) return { grams, waterMl };
      }
    }
    return undefined;
  };
}

/** A level mL of crystals weighs about a gram, from 0.8 to 1.2 by their size (value from memory; weigh a spoonful to know). */
export const GRAMS_IN_A_LEVEL_ML = 1;
/** As many half spoons one still counts. */
const MOST_HALVES = 24;

/**
 * A stock measured in level spoons, for want of a scale: its grams are about, and the pen finds out what it is.
 * @param spoonMl what the spoon holds @returns undefined where no count of half spoons will do
 */
export function planSpoonStock(
  strengthEcPerGL: number,
  volumeL: number,
  aim: Aim,
  tools: readonly Tool[],
  spoonMl: number,
  batches = 1,
): (Stock & { readonly halfSpoons: number }) | undefined {
  requirePositive(strengthEcPerGL, 'the strength');
  requirePositive(volumeL, 'the batch');
  requirePositive(spoonMl, 'the spoon');
  const halfG = (GRAMS_IN_A_LEVEL_ML * spoonMl) / 2;
  const enough = fits(strengthEcPerGL, volumeL, aim, tools, batches);
  const stock = enough(Array.from({ length: MOST_HALVES }, (_, i) => (i + 1) * halfG));
  return stock && { ...stock, halfSpoons: Math.round(stock.grams / halfG) };
}

/** Days a stock of a plain salt is offered again, closed and labelled. Common practice (weeks, until it clouds); no source. */
export const STOCK_KEEPS_DAYS = 30;

/**
 * Whether a stock made earlier does for a batch: enough is left, and one step of the finest tool moves the batch by no more than half its band.
 * @param leftMl of it @param strengthEcPerGL µS/cm of 1 g in 1 L
 */
export function stockServes(
  stock: Stock,
  leftMl: number,
  strengthEcPerGL: number,
  volumeL: number,
  aim: Aim,
  tools: readonly Tool[],
): boolean {
  const ecPerMlL = (strengthEcPerGL * stock.grams) / stock.waterMl;
  return (
    leftMl >= (SPARE * aim.netEcUsCm * volumeL) / ecPerMlL &&
    (finestStepMl(tools) * ecPerMlL) / volumeL <= (aim.highEcUsCm - aim.lowEcUsCm) / 2
  );
}

/** Crystals of a table-salt-like solid, counted out: some 25 mg each, give or take a quarter. Common practice; no source. */
export const GRANULES: Granules = Object.freeze({
  kind: 'granules',
  id: 'granules',
  name: 'granules',
  gramsEach: 0.025,
});

/** Whether a whole dose can be counted in granules, and one of them moves the batch by no more than half its band. */
export function countableInGranules(strengthEcPerGL: number, volumeL: number, aim: Aim): boolean {
  const granules = (aim.netEcUsCm * volumeL) / strengthEcPerGL / GRANULES.gramsEach;
  return (
    granules <= 2 * MOST_DROPS &&
    (GRANULES.gramsEach * strengthEcPerGL) / volumeL <= (aim.highEcUsCm - aim.lowEcUsCm) / 2
  );
}
