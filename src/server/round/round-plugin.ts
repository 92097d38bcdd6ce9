import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id, manyDone, type ManyDone } from '../../contract/common.ts';
import { readingAct, roundAct, roundActDone, roundMany, roundView } from '../../contract/round.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce, manyAgain } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { ready, rowsFor, timesOfWork } from '../collection/index.ts';
import { plainAnswer } from '../plain-answer.ts';
import { whenNow } from '../when.ts';
import { actOnRound, fillMany } from './round-service.ts';
import { roundViewOf } from './round-view.ts';
import { setReading } from './set-reading.ts';

/** Round: what is due today, and logging it pot by pot. */
export const roundPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/round', { ...plainAnswer, schema: { response: { 200: roundView }, tags: ['round'] } }, async () => {
    const today = whenNow(context).localDate;
    const manager = () => context.database.read.manager;
    const collection = await ready(manager, today);
    const { pot, mix } = timesOfWork(collection, rowsFor(manager()), today);
    return roundViewOf(collection, today, pot.minutes, mix.minutes);
  });

  app.put(
    '/api/round/acts/:id',
    { schema: { params: z.object({ id }), body: roundAct, response: { 200: roundActDone }, tags: ['round'] } },
    async (request) => {
      const when = whenNow(context);
      const { id: eventId } = request.params;
      const done = await actOnce(
        context,
        request,
        eventId,
        async (manager) => {
          const { event, repeated } = await actOnRound(manager, eventId, request.body, when);
          return { eventId, at: event.at, repeated };
        },
        async (manager) => {
          const [logged] = await manager.query<{ at: string }[]>('SELECT at FROM care_event WHERE id = ?', [eventId]);
          return { eventId, at: logged?.at ?? when.at.toISOString(), repeated: true };
        },
      );
      return done as { eventId: string; at: string; repeated: boolean };
    },
  );

  app.put(
    '/api/round/reading/:id',
    { schema: { params: z.object({ id }), body: readingAct, response: { 200: actDone }, tags: ['round'] } },
    async (request) => {
      const { id: eventId } = request.params;
      const { repeated } = await actOnce(context, request, eventId, (manager) =>
        setReading(manager, eventId, request.body, whenNow(context)),
      );
      return { eventId, repeated };
    },
  );

  app.put(
    '/api/round/many/:id',
    {
      schema: { params: z.object({ id }), body: roundMany, response: { 200: manyDone }, tags: ['round'] },
      bodyLimit: MANY_BYTES,
    },
    async (request) => {
      const { fills } = request.body;
      const done = await actOnce(
        context,
        request,
        request.params.id,
        (manager) => fillMany(manager, fills, whenNow(context)),
        (manager) => manyAgain(manager, fills),
      );
      return done as ManyDone;
    },
  );
};

/** A thousand pots with what is logged of each. */
const MANY_BYTES = 4 * 1024 * 1024;
