import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { countDropper, dropperCounted, shelfView } from '../../contract/shelf.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { ToolRow } from '../database/entities.ts';
import { whenNow } from '../when.ts';
import { readShelf } from './shelf-reader.ts';

/** Shelf, as far as the bench needs it: what there is to choose from, and counting a dropper. */
export const shelfPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/shelf', { schema: { response: { 200: shelfView }, tags: ['shelf'] } }, () => readShelf(context.database.read.manager));

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
