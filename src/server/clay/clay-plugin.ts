import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { clayAct, clayRoom } from '../../contract/clay.ts';
import { id } from '../../contract/common.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { ready } from '../collection/index.ts';
import { whenNow } from '../when.ts';
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
