import type { Highs } from 'highs';
import type { CoverModel } from '../../core/plan/index.ts';

/** Seconds a solver may take for one mix: what is proven by then stands. */
const SECONDS = 20;
/** Mixes are whole: closer than one to the next whole number is there. */
const GAP = 0.99;

/** The least a model can come to, as far as it is proven; rounded up, for mixes are whole. */
export function atLeast(highs: Highs, { cost, rows }: CoverModel): number {
  if (rows.length === 0) return 0;
  const starts = [0];
  for (const { terms } of rows) starts.push(starts.at(-1)! + terms.length);
  const terms = rows.flatMap((row) => row.terms);
  const { integer } = highs.constants.variableType;
  const model = highs.createModel({
    numCols: cost.length,
    numRows: rows.length,
    colCost: cost,
    colLower: cost.map(() => 0),
    colUpper: cost.map(() => 1),
    rowLower: rows.map(({ low }) => low),
    rowUpper: rows.map(({ high }) => (high === Infinity ? highs.infinity : high)),
    integrality: cost.map(() => integer),
    matrix: {
      format: 'csr',
      numRows: rows.length,
      numCols: cost.length,
      starts,
      indices: terms.map(([column]) => column),
      values: terms.map(([, sign]) => sign),
    },
  });
  try {
    model.options.set({ output_flag: false, time_limit: SECONDS, mip_abs_gap: GAP });
    model.run();
    const bound = Number(model.info.get('mip_dual_bound'));
    return Number.isFinite(bound) ? Math.max(0, Math.ceil(bound - 1e-6)) : 0;
  } finally {
    model.dispose();
  }
}
