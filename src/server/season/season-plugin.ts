import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { seasonView } from '../../contract/season.ts';
import type { AppContext } from '../app-context.ts';
import { ready } from '../collection/index.ts';
import { plainAnswer } from '../plain-answer.ts';
import { whenNow } from '../when.ts';
import { seasonOf } from './season-view.ts';

/** Season: what the plan of the coming weeks knows. The plan itself is made where it is looked at. */
export const seasonPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/season', { ...plainAnswer, schema: { response: { 200: seasonView }, tags: ['season'] } }, async () =>
    seasonOf(await ready(() => context.database.read.manager, whenNow(context).localDate), whenNow(context).localDate),
  );
};
