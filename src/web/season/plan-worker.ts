import { leachesOf, type LeachAsk } from './leaches.ts';
import type { VolumeUnits } from '../../core/quantity/index.ts';
import { setUnits } from '../shell/format.ts';
import { wouldHelp } from './spare-can.ts';
import type { PlanAim, PlanLeach, PlanProblem, SeasonPlan } from '../../core/plan/index.ts';
import { AIMS, bestOfEach, betterPlan, mendedPlan, plansAtOnce, type Plans, type Stands } from './make-plans.ts';

/* Plans are sought beside the page, so that it never stands still. Whoever wants no more ends the worker. */

export type PlanAsk =
  | { readonly kind: 'plans'; readonly problem: PlanProblem; readonly stands: Stands | undefined }
  | {
      readonly kind: 'wouldHelp';
      readonly problem: PlanProblem;
      readonly plan: SeasonPlan;
      readonly aim: PlanAim;
      /** What litres are told in: a worker has settings of its own. */
      readonly units: VolumeUnits;
    }
  | { readonly kind: 'leaches'; readonly asks: readonly LeachAsk[] };
export type PlanReply =
  | { readonly kind: 'progress'; readonly share: number }
  /** `sought`: what was looked for so far. */
  | { readonly kind: 'plans'; readonly plans: Plans; readonly sought: readonly PlanAim[] }
  | { readonly kind: 'wouldHelp'; readonly words: string }
  | { readonly kind: 'leaches'; readonly leaches: PlanLeach[] };

/** As often is it told how far a search is, in shares of it. */
const TOLD_EVERY = 0.05;

const say = (reply: PlanReply) => postMessage(reply);

addEventListener('message', ({ data }: MessageEvent<PlanAsk>) => {
  if (data.kind === 'leaches') return say({ kind: 'leaches', leaches: leachesOf(data.asks) });
  if (data.kind === 'wouldHelp') {
    setUnits(data.units);
    return say({ kind: 'wouldHelp', words: wouldHelp(data.problem, data.plan, data.aim) });
  }
  const { problem, stands } = data;
  let found = plansAtOnce(problem, stands);
  // What stands is mended first, and then what matters most to most.
  const first = stands?.aim ?? 'nobodyLate';
  const order = [first, ...AIMS.filter((aim) => aim !== first)];
  order.forEach((aim, n) => {
    let told = 0;
    const tell = (share: number) => {
      // The page draws itself anew at each of these: seldom enough that it stays smooth.
      if (share >= told + TOLD_EVERY) say({ kind: 'progress', share: (n + (told = share)) / order.length });
      return true;
    };
    // From the best that is known for it, whatever it was sought for.
    const plan =
      stands?.aim === aim
        ? mendedPlan(problem, stands, tell)
        : betterPlan(problem, aim, bestOfEach(problem, found, stands?.aim)[aim].plan, tell);
    found = { ...found, [aim]: plan };
    say({ kind: 'plans', plans: bestOfEach(problem, found, stands?.aim), sought: order.slice(0, n + 1) });
  });
  say({ kind: 'progress', share: 1 });
});
