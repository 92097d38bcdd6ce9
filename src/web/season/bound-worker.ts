import load from 'highs';
import wasmUrl from 'highs/runtime?url';
import { fewestMixesOf, PLAN_AIMS, type PlanAim, type PlanProblem } from '../../core/plan/index.ts';
import { atLeast } from './at-least.ts';
import { noCheaperThan } from './whole-bound.ts';

/* What a solver proves beside the page: how few mixes there could be, and what no plan can cost less than. Ended, it gives its memory back. */

export type ProveAsk = { readonly problem: PlanProblem; readonly aim: PlanAim };
export type ProveReply =
  { readonly kind: 'mixes'; readonly mixes: number } | { readonly kind: 'cost'; readonly cost: number | undefined };

addEventListener('message', ({ data: { problem, aim } }: MessageEvent<ProveAsk>) => {
  void (async () => {
    const highs = await load({ locateFile: () => wasmUrl });
    let mixes = 0;
    for (const model of fewestMixesOf(problem).values()) mixes += atLeast(highs, model);
    postMessage({ kind: 'mixes', mixes } satisfies ProveReply);
    postMessage({ kind: 'cost', cost: noCheaperThan(highs, problem, PLAN_AIMS[aim]) } satisfies ProveReply);
  })();
});
