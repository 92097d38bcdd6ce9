import { useEffect, useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { PlanAim, PlanProblem, SeasonPlan } from '../../core/plan/index.ts';
import { litres, ownUnits } from '../shell/format.ts';
import type { PlanAsk, PlanReply } from './plan-worker.ts';
import { CAN_L, wouldHelp } from './spare-can.ts';

/** Whether a spare can would end what goes wrong: the plan is sought again with it, beside the page. Nothing is said before that. */
export function WouldHelp({ problem, plan, aim }: { problem: PlanProblem; plan: SeasonPlan; aim: PlanAim }) {
  const [asked, setAsked] = useState<SeasonPlan>();
  const [found, setFound] = useState<{ readonly plan: SeasonPlan; readonly words: string }>();
  useEffect(() => {
    if (asked !== plan) return undefined;
    const done = (words: string) => setFound({ plan, words });
    if (typeof Worker === 'undefined') return void done(wouldHelp(problem, plan, aim));
    const worker = new Worker(new URL('./plan-worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<PlanReply>) => {
      if (data.kind === 'wouldHelp') done(data.words);
    });
    worker.postMessage({ kind: 'wouldHelp', problem, plan, aim, units: ownUnits() } satisfies PlanAsk);
    return () => worker.terminate();
  }, [asked, problem, plan, aim]);
  if (!problem.tank || problem.tank.capL === null) return null;
  if (asked !== plan)
    return (
      <Button variant="link" size="sm" className="p-0 would-help" onClick={() => setAsked(plan)}>
        Would a spare can of {litres(CAN_L)} help?
      </Button>
    );
  return (
    <p className="small mb-0" role="status">
      {found?.plan === plan ? found.words : 'Planning again with it …'}
    </p>
  );
}
