import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { regimensCompared, regimensComparedAsked } from '../../../contract/regimens-compared.ts';
import type { AppContext } from '../../app-context.ts';
import { pastOf } from '../../collection/index.ts';
import { whenNow } from '../../when.ts';
import { comparedRegimens } from './regimens-compared.ts';

/** The regimens of the collection side by side. */
export const schoolsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get(
    '/api/book/schools',
    { schema: { querystring: regimensComparedAsked, response: { 200: regimensCompared }, tags: ['book'] } },
    async ({ query }) => {
      const { collection, past } = await pastOf(() => context.database.read.manager);
      return comparedRegimens(collection, past, query, whenNow(context).localDate);
    },
  );
};
