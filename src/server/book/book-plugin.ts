import type { FastifyRequest } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import type { EntityManager } from 'typeorm';
import { z } from 'zod';
import { bookPage, correctable, correctRequest, undoDone, undoRequest } from '../../contract/book.ts';
import { id } from '../../contract/common.ts';
import { actDone } from '../../contract/shelf.ts';
import { idFrom } from '../id-from.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { readBook, readCorrectable } from './book-view.ts';
import { correctAct } from './correct-service.ts';
import { undoAct, wordsOfUndo } from './undo-service.ts';

/** Book: the log of everything, taking acts back, and putting figures right. */
export const bookPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const undoOnce = async (request: FastifyRequest, id: string, targetId: string, alsoIds: readonly string[]) => {
    const words = (manager: EntityManager) => wordsOfUndo(manager, targetId);
    const done = await actOnce(
      context,
      request,
      id,
      async (manager) => {
        // The newest first, as one would press.
        for (const also of [...alsoIds].reverse()) await undoAct(manager, idFrom(id, also), also, whenNow(context));
        const first = await undoAct(manager, id, targetId, whenNow(context));
        return alsoIds.length > 0 ? { ...first, words: `Took ${alsoIds.length + 1} acts back` } : first;
      },
      async (manager) => ({ words: await words(manager), repeated: true }),
    );
    return done as { words: string; repeated: boolean };
  };
  app.get(
    '/api/book',
    {
      schema: {
        querystring: z.object({ before: z.coerce.number().int().positive().optional() }),
        response: { 200: bookPage },
        tags: ['book'],
      },
    },
    async (request) =>
      readBook(context.database.read.manager, whenNow(context), context.settings, request.query.before),
  );

  app.get(
    '/api/book/acts/:id',
    { schema: { params: z.object({ id }), response: { 200: correctable }, tags: ['book'] } },
    async (request) => {
      const found = readCorrectable(context.database.read.manager, request.params.id, context.settings);
      if (!found) throw new AppError('cannot-correct', 'That act no longer stands, or has no figures to put right.');
      return found;
    },
  );
  app.put(
    '/api/book/corrections/:id',
    { schema: { params: z.object({ id }), body: correctRequest, response: { 200: actDone }, tags: ['book'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        correctAct(manager, request.params.id, request.body),
      );
      return { eventId: request.params.id, repeated };
    },
  );

  app.put(
    '/api/book/undos/:id',
    { schema: { params: z.object({ id }), body: undoRequest, response: { 200: undoDone }, tags: ['book'] } },
    async (request) => {
      const { targetId, alsoIds } = request.body;
      const { words, repeated } = await undoOnce(request, request.params.id, targetId, alsoIds);
      return { eventId: request.params.id, targetId, words, repeated };
    },
  );
};
