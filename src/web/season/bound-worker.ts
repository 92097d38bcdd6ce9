import load from 'highs';
import wasmUrl from 'highs/runtime?url';
import { fewestMixesOf, type PlanProblem } from '../../core/plan/index.ts';
import { atLeast } from './at-least.ts';

/* How few mixes there could be, proven by a solver beside the page. It answers once; ended, it gives its memory back. */

addEventListener('message', ({ data }: MessageEvent<PlanProblem>) => {
  void (async () => {
    const highs = await load({ locateFile: () => wasmUrl });
    let sum = 0;
    for (const model of fewestMixesOf(data).values()) sum += atLeast(highs, model);
    postMessage(sum);
  })();
});
