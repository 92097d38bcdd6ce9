import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { keepPlan, seasonAct, seasonView } from '../../contract/season.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { ready, rowsFor } from '../collection/index.ts';
import { plainAnswer } from '../plain-answer.ts';
import { whenNow } from '../when.ts';
import { fixedActs } from './fixed-acts.ts';
import { actOnSeason, keepThePlan } from './season-service.ts';
import { PLAN_DAYS, seasonOf } from './season-view.ts';

/** Season: what the plan of the coming weeks knows, and the plan that stands. A plan is made where it is looked at. */
export const seasonPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/season', { ...plainAnswer, schema: { response: { 200: seasonView }, tags: ['season'] } }, async () => {
    const today = whenNow(context).localDate;
    const manager = () => context.database.read.manager;
    const collection = await ready(manager, today);
    return seasonOf(collection, today, fixedActs(rowsFor(manager()), collection, today, PLAN_DAYS));
  });
  app.put(
    '/api/season/plan/:id',
    {
      schema: { params: z.object({ id }), body: keepPlan, response: { 200: actDone }, tags: ['season'] },
      bodyLimit: PLAN_BYTES,
    },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        keepThePlan(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );
  app.put(
    '/api/season/acts/:id',
    { schema: { params: z.object({ id }), body: seasonAct, response: { 200: actDone }, tags: ['season'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnSeason(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );
};

/** Some thousand pots, each with its days. */
const PLAN_BYTES = 8 * 1024 * 1024;
