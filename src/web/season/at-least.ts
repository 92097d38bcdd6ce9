import type { Highs } from 'highs';
import type { LinearModel } from '../../core/plan/index.ts';
import { solverOf } from './solver.ts';

/** Seconds a solver may take for one mix: what is proven by then stands. */
const SECONDS = 20;
/** Mixes are whole: closer than one to the next whole number is there. */
const GAP = 0.99;

/** The least a model in whole numbers can come to, as far as it is proven; rounded up, for mixes are whole. */
export function atLeast(highs: Highs, model: LinearModel): number {
  if (model.rows.length === 0) return 0;
  const solver = solverOf(highs, model, true);
  try {
    solver.options.set({ output_flag: false, time_limit: SECONDS, mip_abs_gap: GAP });
    solver.run();
    const bound = Number(solver.info.get('mip_dual_bound'));
    return Number.isFinite(bound) ? Math.max(0, Math.ceil(bound - 1e-6)) : 0;
  } finally {
    solver.dispose();
  }
}
