import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { lookBack } from '../../../contract/look-back.ts';
import type { AppContext } from '../../app-context.ts';
import { pastOf, rowsFor } from '../../collection/index.ts';
import { whenNow } from '../../when.ts';
import { turnsOf } from '../turns/turns-view.ts';
import { lookBackOn } from './look-back.ts';

/** Forecasts, looked back on. */
export const forecastsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/book/forecasts', { schema: { response: { 200: lookBack }, tags: ['book'] } }, async () => {
    const manager = () => context.database.read.manager;
    const { collection, past } = await pastOf(manager);
    const turns = turnsOf(rowsFor(manager()), collection, past);
    return lookBackOn(collection, past, turns, whenNow(context).localDate);
  });
};
