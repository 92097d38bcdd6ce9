import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id, localDate } from '../../contract/common.ts';
import {
  actDone,
  countDropper,
  dropperCounted,
  meterReadings,
  shelfAct,
  shelfRoom,
  shelfView,
  strengthHistory,
} from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Product, ToolRow } from '../database/entities.ts';
import { whenNow } from '../when.ts';
import { readingsOf } from './meter-states.ts';
import { readStrengthHistory } from './product-facts.ts';
import { readShelf } from './shelf-reader.ts';
import { readShelfRoom } from './shelf-room.ts';
import { actOnShelf } from './shelf-service.ts';
import { inOnePiece, growersScale, metersOf } from '../collection/index.ts';

/** Shelf: waters, instruments, measures, vessels and products; what the bench can choose from; counting a dropper. */
export const shelfPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/shelf', { schema: { response: { 200: shelfView }, tags: ['shelf'] } }, async () =>
    readShelf(context.database.read.manager, whenNow(context).localDate),
  );
  app.get('/api/shelf/room', { schema: { response: { 200: shelfRoom }, tags: ['shelf'] } }, async () =>
    inOnePiece(
      () => context.database.read.manager,
      (manager) => readShelfRoom(manager, whenNow(context).localDate, context.settings.zone),
    ),
  );

  app.get(
    '/api/shelf/products/:id/strength',
    { schema: { params: z.object({ id }), response: { 200: strengthHistory }, tags: ['shelf'] } },
    async (request) => {
      const { manager } = context.database.read;
      const product = await manager.getRepository<Product>('product').findOneBy({ id: request.params.id });
      if (!product) throw new AppError('not-found', 'That product is not on the shelf.');
      const meters = metersOf(manager);
      return readStrengthHistory(manager, product, meters, growersScale(meters));
    },
  );
  app.get(
    '/api/shelf/meters/:id/readings',
    {
      schema: {
        params: z.object({ id }),
        querystring: z.object({ since: localDate }),
        response: { 200: meterReadings },
        tags: ['shelf'],
      },
    },
    async (request) => {
      const { manager } = context.database.read;
      const meter = metersOf(manager).get(request.params.id);
      if (!meter) throw new AppError('not-found', 'That pen is not on the shelf.');
      return { readings: readingsOf(manager, meter, context.settings.zone, request.query.since) };
    },
  );

  await actRoutes(app, { context });
};

const actRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.put(
    '/api/shelf/acts/:id',
    { schema: { params: z.object({ id }), body: shelfAct, response: { 200: actDone }, tags: ['shelf'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnShelf(manager, request.params.id, request.body, { ...whenNow(context), zone: context.settings.zone }),
      );
      return { eventId: request.params.id, repeated };
    },
  );

  app.put(
    '/api/shelf/droppers/:toolId/counts/:id',
    {
      schema: {
        params: z.object({ toolId: id, id }),
        body: countDropper,
        response: { 200: dropperCounted },
        tags: ['shelf'],
      },
    },
    async (request) => {
      const { toolId, id: eventId } = request.params;
      const { dropsPerMl } = request.body;
      const when = whenNow(context);
      await actOnce(context, request, eventId, async (manager) => {
        const tools = manager.getRepository<ToolRow>('tool');
        const tool = await tools.findOneBy({ id: toolId });
        if (tool?.kind !== 'dropper') throw new AppError('not-found', 'That dropper is not on the shelf.');
        const known = await manager.query<unknown[]>('SELECT 1 FROM care_event WHERE id = ?', [eventId]);
        if (known.length > 0) return { repeated: true };
        await appendCareEvent(manager, {
          id: eventId,
          kind: 'dropperCounted',
          at: when.at,
          localDate: when.localDate,
          payload: { toolId, dropsPerMl, before: tool.dropsPerMl },
        });
        await tools.update(toolId, { dropsPerMl });
        return { repeated: false };
      });
      return { toolId, dropsPerMl };
    },
  );
};
