import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { bookPage, undoDone, undoRequest } from '../../contract/book.ts';
import { id } from '../../contract/common.ts';
import type { AppContext } from '../app-context.ts';
import { whenNow } from '../when.ts';
import { readBook } from './book-view.ts';
import { undoAct } from './undo-service.ts';

/** Book: the log of everything, and taking acts back. */
export const bookPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get(
    '/api/book',
    { schema: { querystring: z.object({ before: z.coerce.number().int().positive().optional() }), response: { 200: bookPage }, tags: ['book'] } },
    (request) => readBook(context.database.read.manager, whenNow(context).localDate, context.settings.zone, request.query.before),
  );

  app.put('/api/book/undos/:id', { schema: { params: z.object({ id }), body: undoRequest, response: { 200: undoDone }, tags: ['book'] } }, async (request) => {
    const { words, repeated } = await context.database.write.run((manager) => undoAct(manager, request.params.id, request.body.targetId, whenNow(context)));
    return { eventId: request.params.id, targetId: request.body.targetId, words, repeated };
  });
};
