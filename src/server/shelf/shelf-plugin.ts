import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { actDone, countDropper, dropperCounted, shelfAct, shelfRoom, shelfView } from '../../contract/shelf.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { ToolRow } from '../database/entities.ts';
import { whenNow } from '../when.ts';
import { readShelf } from './shelf-reader.ts';
import { readShelfRoom } from './shelf-room.ts';
import { actOnShelf } from './shelf-service.ts';

/** Shelf: waters, instruments, measures, vessels and products; what the bench can choose from; counting a dropper. */
export const shelfPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/shelf', { schema: { response: { 200: shelfView }, tags: ['shelf'] } }, () => readShelf(context.database.read.manager));
  app.get('/api/shelf/room', { schema: { response: { 200: shelfRoom }, tags: ['shelf'] } }, () =>
    readShelfRoom(context.database.read.manager, whenNow(context).localDate),
  );

  app.put('/api/shelf/acts/:id', { schema: { params: z.object({ id }), body: shelfAct, response: { 200: actDone }, tags: ['shelf'] } }, async (request) => {
    const { repeated } = await context.database.write.run((manager) => actOnShelf(manager, request.params.id, request.body, whenNow(context)));
    return { eventId: request.params.id, repeated };
  });

  app.put(
    '/api/shelf/droppers/:toolId/counts/:id',
    { schema: { params: z.object({ toolId: id, id }), body: countDropper, response: { 200: dropperCounted }, tags: ['shelf'] } },
    async (request) => {
      const { toolId, id: eventId } = request.params;
      const { dropsPerMl } = request.body;
      const when = whenNow(context);
      await context.database.write.run(async (manager) => {
        const tools = manager.getRepository<ToolRow>('tool');
        const tool = await tools.findOneBy({ id: toolId });
        if (tool?.kind !== 'dropper') throw new AppError('not-found', 'That dropper is not on the shelf.');
        const known = await manager.query<unknown[]>('SELECT 1 FROM care_event WHERE id = ?', [eventId]);
        if (known.length > 0) return;
        await appendCareEvent(manager, {
          id: eventId,
          kind: 'dropperCounted',
          at: when.at,
          localDate: when.localDate,
          payload: { toolId, dropsPerMl, before: tool.dropsPerMl },
        });
        await tools.update(toolId, { dropsPerMl });
      });
      return { toolId, dropsPerMl };
    },
  );
};
