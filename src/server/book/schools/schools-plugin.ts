import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { regimensCompared, regimensComparedAsked } from '../../../contract/regimens-compared.ts';
import type { AppContext } from '../../app-context.ts';
import { pastOf, rowsFor } from '../../collection/index.ts';
import { whenNow } from '../../when.ts';
import { comparedRegimens } from './regimens-compared.ts';

/** The regimens of the collection side by side. */
export const schoolsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get(
    '/api/book/schools',
    { schema: { querystring: regimensComparedAsked, response: { 200: regimensCompared }, tags: ['book'] } },
    async ({ query }) => {
      const manager = () => context.database.read.manager;
      const { collection, past } = await pastOf(manager);
      return comparedRegimens(rowsFor(manager()), collection, past, query, whenNow(context).localDate);
    },
  );
};
