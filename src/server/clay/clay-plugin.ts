import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { clayAct, clayRoom } from '../../contract/clay.ts';
import { id } from '../../contract/common.ts';
import { lookBack } from '../../contract/look-back.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { metersOf, ready, rowsFor } from '../collection/index.ts';
import type { ClayBatch } from '../database/entities.ts';
import { whenNow } from '../when.ts';
import { readClayEvents } from './clay-log.ts';
import { lookBackOnClay } from './look-back.ts';
import { readClayRoom, fitClayAhead } from './clay-room.ts';
import { actOnClay } from './clay-service.ts';

/** Clay: batches on their way to the pots, holds in the pot, potting up. */
export const clayPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/clay', { schema: { response: { 200: clayRoom }, tags: ['clay'] } }, async () => {
    await ready(() => context.database.read.manager, whenNow(context).localDate);
    await fitClayAhead(context.database.read.manager, whenNow(context).localDate);
    return readClayRoom(context.database.read.manager, context.clock.now(), {
      zone: context.settings.zone,
      units: context.settings.units,
    });
  });
  app.get('/api/clay/look-back', { schema: { response: { 200: lookBack }, tags: ['clay'] } }, () => {
    const { manager } = context.database.read;
    const batches = rowsFor(manager)<ClayBatch>('SELECT * FROM clay_batch');
    const { zone } = context.settings;
    return lookBackOnClay(batches, readClayEvents(manager), metersOf(manager), {
      today: whenNow(context).localDate,
      zone,
    });
  });
  app.put(
    '/api/clay/acts/:id',
    { schema: { params: z.object({ id }), body: clayAct, response: { 200: actDone }, tags: ['clay'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnClay(manager, request.params.id, request.body, { ...whenNow(context), zone: context.settings.zone }),
      );
      return { eventId: request.params.id, repeated };
    },
  );
};
