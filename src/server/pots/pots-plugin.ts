import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { potsAct, potsView, potView } from '../../contract/pots.ts';
import { actDone } from '../../contract/shelf.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { actOnPots } from './pots-service.ts';
import { readPot, readPots } from './pots-view.ts';

/** A list of a thousand pots, each with everything written of it, comes to about 1 MB. */
const LIST_BYTES = 4 * 1024 * 1024;

/** Pots: the collection, one pot's history, and every act on them. */
export const potsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/pots', { schema: { response: { 200: potsView }, tags: ['pots'] } }, () => readPots(context.database.read.manager, whenNow(context).localDate));

  app.get('/api/pots/:id', { schema: { params: z.object({ id }), response: { 200: potView }, tags: ['pots'] } }, async (request) => {
    const found = await readPot(context.database.read.manager, request.params.id, whenNow(context).localDate, context.settings);
    if (!found) throw new AppError('not-found', 'There is no such pot in this collection.');
    return found;
  });

  app.put(
    '/api/pots/acts/:id',
    { schema: { params: z.object({ id }), body: potsAct, response: { 200: actDone }, tags: ['pots'] }, bodyLimit: LIST_BYTES },
    async (request) => {
      const { repeated } = await context.database.write.run((manager) => actOnPots(manager, request.params.id, request.body, whenNow(context)));
      return { eventId: request.params.id, repeated };
    },
  );
};
