import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import {
  type BatchView,
  batchView,
  beforeStart as beforeStartView,
  benchStep,
  startBatch,
} from '../../contract/bench.ts';
import { benchList, leftoversOut } from '../../contract/bench-list.ts';
import { id, manyDone, type ManyDone } from '../../contract/common.ts';
import { keepPhoto as keepPhotoBody, MOST_PHOTO_BYTES } from '../../contract/photos.ts';
import { recipeAct, recipeBook } from '../../contract/recipes.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce, manyAgain } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { ready } from '../collection/index.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { beforeStart } from './before.ts';
import { actAtBench } from './bench-service.ts';
import { readBenchList } from './bench-list.ts';
import { readBatchView } from './bench-view.ts';
import { emptyLeftovers } from './leftovers.ts';
import { photoOf } from '../database/photos.ts';
import { keepPhoto } from './photos.ts';
import { actOnRecipes, readRecipeBook } from './recipes.ts';
import { ONLY_STARTED, requireSeen } from './seen-by-other.ts';
import { startBatchOf } from './start-batch.ts';

/** Bench: batches, and every act on them. Each act answers with the batch as it now stands. */
export const benchPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/bench/batches', { schema: { response: { 200: benchList }, tags: ['bench'] } }, async () =>
    readBenchList(context.database.read.manager, context.settings.zone, whenNow(context).localDate),
  );

  app.get(
    '/api/bench/batches/:id',
    { schema: { params: z.object({ id }), response: { 200: batchView }, tags: ['bench'] } },
    async (request) => viewOf(context, request.params.id),
  );

  app.post(
    '/api/bench/before',
    { schema: { body: startBatch, response: { 200: beforeStartView }, tags: ['bench'] } },
    async (request) => {
      await ready(() => context.database.read.manager, whenNow(context).localDate);
      return beforeStart(context.database.read.manager, request.body, whenNow(context), context.settings.zone);
    },
  );

  await actRoutes(app, { context });
  await leftoverRoutes(app, { context });
  await photoRoutes(app, { context });
  await recipeRoutes(app, { context });
};

/** Each act answers with the batch as it now stands. @throws AppError `not-found` */
function viewOf(context: AppContext, batchId: string): BatchView {
  const found = readBatchView(context.database.read.manager, batchId, context.settings.zone, whenNow(context));
  if (!found) throw new AppError('not-found', 'There is no such batch.');
  return found;
}

const actRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.put(
    '/api/bench/batches/:id',
    { schema: { params: z.object({ id }), body: startBatch, response: { 200: batchView }, tags: ['bench'] } },
    async (request) => {
      await actOnce(context, request, request.params.id, async (manager) => {
        await startBatchOf(manager, request.params.id, request.body, whenNow(context));
        return { repeated: false };
      });
      return viewOf(context, request.params.id);
    },
  );

  app.put(
    '/api/bench/batches/:id/steps/:stepId',
    {
      schema: {
        params: z.object({ id, stepId: id }),
        querystring: z.object({ after: z.union([id, z.literal(ONLY_STARTED)]).optional() }),
        body: benchStep,
        response: { 200: batchView },
        tags: ['bench'],
      },
    },
    async (request) => {
      await actOnce(context, request, request.params.stepId, async (manager) => {
        await requireSeen(manager, request.params.id, request.query.after, context.settings);
        return actAtBench(manager, request.params.id, request.params.stepId, request.body, whenNow(context));
      });
      return viewOf(context, request.params.id);
    },
  );
};

const leftoverRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.put(
    '/api/bench/leftovers/:id',
    { schema: { params: z.object({ id }), body: leftoversOut, response: { 200: manyDone }, tags: ['bench'] } },
    async (request) => {
      const { leftovers, to } = request.body;
      const done = await actOnce(
        context,
        request,
        request.params.id,
        (manager) => emptyLeftovers(manager, leftovers, to, whenNow(context)),
        (manager) => manyAgain(manager, leftovers),
      );
      return done as ManyDone;
    },
  );
};

const photoRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.put(
    '/api/bench/batches/:id/photos/:photoId',
    {
      bodyLimit: 2 * MOST_PHOTO_BYTES,
      schema: {
        params: z.object({ id, photoId: id }),
        body: keepPhotoBody,
        response: { 200: batchView },
        tags: ['bench'],
      },
    },
    async (request) => {
      await actOnce(context, request, request.params.photoId, async (manager) => {
        await keepPhoto(manager, request.params.id, request.params.photoId, request.body, whenNow(context));
        return { repeated: false };
      });
      return viewOf(context, request.params.id);
    },
  );

  app.get(
    '/api/bench/photos/:id',
    { schema: { params: z.object({ id }), tags: ['bench'] } },
    async (request, reply) => {
      const jpeg = await photoOf(context.database.read.manager, request.params.id);
      if (!jpeg) throw new AppError('not-found', 'There is no such photo.');
      return reply.type('image/jpeg').header('cache-control', 'private, max-age=31536000, immutable').send(jpeg);
    },
  );
};

const recipeRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/bench/recipes', { schema: { response: { 200: recipeBook }, tags: ['bench'] } }, async () =>
    readRecipeBook(context.database.read.manager),
  );

  app.put(
    '/api/bench/recipes/acts/:id',
    { schema: { params: z.object({ id }), body: recipeAct, response: { 200: actDone }, tags: ['bench'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnRecipes(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );
};
