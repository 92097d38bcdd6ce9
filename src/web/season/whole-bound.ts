import type { Highs } from 'highs';
import { wholeModel, type PlanProblem, type PlanWeights } from '../../core/plan/index.ts';

/**
 * What no plan can cost less than, by its weights: the least of the whole season's model with parts of acts allowed. Cuts and branching brought hardly one in a hundred
 * more in the trials, for many times as long.
 * @returns undefined where the solver found none
 */
export function noCheaperThan(highs: Highs, problem: PlanProblem, weights: PlanWeights): number | undefined {
  const { model, constant } = wholeModel(problem, weights);
  const { cost, lower, upper, rows } = model;
  if (rows.length === 0) return constant;
  const starts = [0];
  for (const { terms } of rows) starts.push(starts.at(-1)! + terms.length);
  const terms = rows.flatMap((row) => row.terms);
  const bounded = (x: number) => (Number.isFinite(x) ? x : Math.sign(x) * highs.infinity);
  const solver = highs.createModel({
    numCols: cost.length,
    numRows: rows.length,
    colCost: cost,
    colLower: lower,
    colUpper: upper.map(bounded),
    rowLower: rows.map(({ low }) => bounded(low)),
    rowUpper: rows.map(({ high }) => bounded(high)),
    matrix: {
      format: 'csr',
      numRows: rows.length,
      numCols: cost.length,
      starts,
      indices: terms.map(([column]) => column),
      values: terms.map(([, by]) => by),
    },
  });
  try {
    solver.options.set({ output_flag: false });
    solver.run();
    const optimal = solver.getModelStatus() === highs.constants.modelStatus.optimal;
    return optimal ? constant + Number(solver.info.get('objective_function_value')) : undefined;
  } finally {
    solver.dispose();
  }
}
