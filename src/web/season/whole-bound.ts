import type { Highs } from 'highs';
import { solverOf } from './solver.ts';
import { wholeModel, type PlanProblem, type PlanWeights } from '../../core/plan/index.ts';

/**
 * What no plan can cost less than, by its weights: the least of the whole season's model with parts of acts allowed. Cuts and branching brought hardly one in a hundred
 * more in the trials, for many times as long.
 * @returns undefined where the solver found none
 */
export function noCheaperThan(highs: Highs, problem: PlanProblem, weights: PlanWeights): number | undefined {
  const { model, constant } = wholeModel(problem, weights);
  if (model.rows.length === 0) return constant;
  const solver = solverOf(highs, model, false);
  try {
    solver.options.set({ output_flag: false });
    solver.run();
    const optimal = solver.getModelStatus() === highs.constants.modelStatus.optimal;
    return optimal ? constant + Number(solver.info.get('objective_function_value')) : undefined;
  } finally {
    solver.dispose();
  }
}
