import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { bookPage, correctable, correctRequest, undoDone, undoRequest } from '../../contract/book.ts';
import { id } from '../../contract/common.ts';
import { actDone } from '../../contract/shelf.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { readBook, readCorrectable } from './book-view.ts';
import { correctAct } from './correct-service.ts';
import { undoAct } from './undo-service.ts';

/** Book: the log of everything, taking acts back, and putting figures right. */
export const bookPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get(
    '/api/book',
    { schema: { querystring: z.object({ before: z.coerce.number().int().positive().optional() }), response: { 200: bookPage }, tags: ['book'] } },
    (request) => readBook(context.database.read.manager, whenNow(context).localDate, context.settings, request.query.before),
  );

  app.get('/api/book/acts/:id', { schema: { params: z.object({ id }), response: { 200: correctable }, tags: ['book'] } }, async (request) => {
    const found = await readCorrectable(context.database.read.manager, request.params.id, context.settings.units);
    if (!found) throw new AppError('cannot-correct', 'That act no longer stands, or has no figures to put right.');
    return found;
  });
  app.put(
    '/api/book/corrections/:id',
    { schema: { params: z.object({ id }), body: correctRequest, response: { 200: actDone }, tags: ['book'] } },
    async (request) => {
      const { repeated } = await context.database.write.run((manager) => correctAct(manager, request.params.id, request.body));
      return { eventId: request.params.id, repeated };
    },
  );

  app.put('/api/book/undos/:id', { schema: { params: z.object({ id }), body: undoRequest, response: { 200: undoDone }, tags: ['book'] } }, async (request) => {
    const { words, repeated } = await context.database.write.run((manager) => undoAct(manager, request.params.id, request.body.targetId, whenNow(context)));
    return { eventId: request.params.id, targetId: request.body.targetId, words, repeated };
  });
};
