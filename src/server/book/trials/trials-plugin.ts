import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../../contract/common.ts';
import { actDone } from '../../../contract/shelf.ts';
import { trialAct, trialPlan, trialPlanAsked, trialsView } from '../../../contract/trials.ts';
import { actOnce } from '../../act-once.ts';
import type { AppContext } from '../../app-context.ts';
import { pastOf, rowsFor } from '../../collection/index.ts';
import { whenNow } from '../../when.ts';
import { planOf } from './trial-plan.ts';
import { actOnTrial } from './trial-service.ts';
import { trialsViewOf } from './trials-view.ts';

/** Trials: what so many pots can show, and what they showed. */
export const trialsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const manager = () => context.database.read.manager;
  app.get('/api/book/trials', { schema: { response: { 200: trialsView }, tags: ['book'] } }, async () => {
    const { collection, past } = await pastOf(manager);
    const today = whenNow(context).localDate;
    return { today, trials: trialsViewOf(rowsFor(manager()), collection, past, today) };
  });
  app.post(
    '/api/book/trials/plan',
    { schema: { body: trialPlanAsked, response: { 200: trialPlan }, tags: ['book'] } },
    async ({ body }) => {
      const { collection, past } = await pastOf(manager);
      return planOf(collection, past, body, whenNow(context).localDate);
    },
  );
  app.put(
    '/api/book/trials/acts/:id',
    { schema: { params: z.object({ id }), body: trialAct, response: { 200: actDone }, tags: ['book'] } },
    async (request) => {
      const { id: actId } = request.params;
      const { repeated } = await actOnce(context, request, actId, (writer) =>
        actOnTrial(writer, actId, request.body, whenNow(context)),
      );
      return { eventId: actId, repeated };
    },
  );
};
