import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { roundAct, roundActDone, roundView } from '../../contract/round.ts';
import type { AppContext } from '../app-context.ts';
import { untilWritten } from '../database/kept-rows.ts';
import { plainAnswer } from '../plain-answer.ts';
import { whenNow } from '../when.ts';
import { actOnRound } from './round-service.ts';
import { readRound } from './round-view.ts';

/** Round: what is due today, and logging it pot by pot. */
export const roundPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/round', { ...plainAnswer, schema: { response: { 200: roundView }, tags: ['round'] } }, () => {
    const { manager } = context.database.read;
    const { localDate: today } = whenNow(context);
    const { zone } = context.settings;
    return untilWritten(manager, `round ${today} ${zone}`, () => readRound(manager, today, zone));
  });

  app.put(
    '/api/round/acts/:id',
    { schema: { params: z.object({ id }), body: roundAct, response: { 200: roundActDone }, tags: ['round'] } },
    async (request) => {
      const when = whenNow(context);
      const { event, repeated } = await context.database.write.run((manager) => actOnRound(manager, request.params.id, request.body, when));
      return { eventId: event.id, at: event.at, repeated };
    },
  );
};
