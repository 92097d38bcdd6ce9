import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { potsView, potView } from '../../contract/pots.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { readPot, readPots } from './pots-view.ts';

/** Pots: the collection and one pot's history. */
export const potsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/pots', { schema: { response: { 200: potsView }, tags: ['pots'] } }, () => readPots(context.database.read.manager, whenNow(context).localDate));

  app.get('/api/pots/:id', { schema: { params: z.object({ id }), response: { 200: potView }, tags: ['pots'] } }, async (request) => {
    const found = await readPot(context.database.read.manager, request.params.id, whenNow(context).localDate, context.settings.zone);
    if (!found) throw new AppError('not-found', 'There is no such pot in this collection.');
    return found;
  });
};
