import type { PlanAim, PlanProblem } from '../../core/plan/index.ts';
import { AIMS, bestOfEach, betterPlan, plansAtOnce, type Plans } from './make-plans.ts';

/* Plans are sought beside the page, so that it never stands still. Whoever wants no more ends the worker. */

export type PlanAsk = { readonly problem: PlanProblem };
export type PlanReply =
  | { readonly kind: 'first'; readonly plans: Plans }
  | { readonly kind: 'progress'; readonly share: number }
  | { readonly kind: 'better'; readonly plans: Plans };

const say = (reply: PlanReply) => postMessage(reply);

addEventListener('message', ({ data: { problem } }: MessageEvent<PlanAsk>) => {
  const first = plansAtOnce(problem);
  say({ kind: 'first', plans: first });
  // What matters most to most is sought first.
  const order: readonly PlanAim[] = ['nobodyLate', ...AIMS.filter((aim) => aim !== 'nobodyLate')];
  let found = first;
  order.forEach((aim, n) => {
    // From the best that is known for it, whatever it was sought for.
    const from = bestOfEach(problem, found)[aim].plan;
    const plan = betterPlan(problem, aim, from, (share) => {
      say({ kind: 'progress', share: (n + share) / order.length });
      return true;
    });
    found = { ...found, [aim]: plan };
    say({ kind: 'better', plans: bestOfEach(problem, found) });
  });
  say({ kind: 'progress', share: 1 });
});
