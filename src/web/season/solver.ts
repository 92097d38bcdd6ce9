import type { Highs } from 'highs';
import type { LinearModel } from '../../core/plan/index.ts';

/** A model as the solver takes it. Whoever asks for one gives its memory back (`dispose`). @param whole its columns are whole numbers */
export function solverOf(highs: Highs, { cost, lower, upper, rows }: LinearModel, whole: boolean) {
  const starts = [0];
  for (const { terms } of rows) starts.push(starts.at(-1)! + terms.length);
  const terms = rows.flatMap((row) => row.terms);
  const bounded = (x: number) => (Number.isFinite(x) ? x : Math.sign(x) * highs.infinity);
  const { integer, continuous } = highs.constants.variableType;
  return highs.createModel({
    numCols: cost.length,
    numRows: rows.length,
    colCost: cost,
    colLower: lower,
    colUpper: upper.map(bounded),
    rowLower: rows.map(({ low }) => bounded(low)),
    rowUpper: rows.map(({ high }) => bounded(high)),
    integrality: cost.map(() => (whole ? integer : continuous)),
    matrix: {
      format: 'csr',
      numRows: rows.length,
      numCols: cost.length,
      starts,
      indices: terms.map(([column]) => column),
      values: terms.map(([, by]) => by),
    },
  });
}
