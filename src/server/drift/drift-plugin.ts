import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id, localDate } from '../../contract/common.ts';
import {
  acidsFor as acidsSchema,
  driftAct,
  driftChoices,
  driftRoom,
  mixAdvice,
  notYet,
  potDrift,
  potModel,
} from '../../contract/drift.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { ready } from '../collection/index.ts';
import { plainAnswerOfPots, plainList } from '../plain-answer.ts';
import { whenNow } from '../when.ts';
import { choicesOf, driftPotOf, driftViewOf, modelsOf, nextOfKey, potDriftOf } from './drift-view.ts';
import { acidsFor, adviseMix } from './next-pour.ts';
import { actOnDrift } from './soak-service.ts';

const NOT_FOLLOWED = 'Nothing can be foretold of that pot yet: fill it with a mix from the bench first.';

/** Drift: what the clay does to pH between rounds. */
export const driftPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const whole = (each?: Parameters<typeof ready>[2]) => ready(() => context.database.read.manager, today(), each);
  const today = () => whenNow(context).localDate;

  app.get('/api/drift', { ...plainAnswerOfPots, schema: { response: { 200: driftRoom }, tags: ['drift'] } }, async () =>
    driftViewOf(await whole(driftPotOf), context.clock.now(), today()),
  );
  app.get(
    '/api/drift/pots/:potId',
    { schema: { params: z.object({ potId: id }), response: { 200: z.union([potDrift, notYet]) }, tags: ['drift'] } },
    async (request) => {
      const { potId } = request.params;
      const collection = await whole();
      if (!collection.pots.has(potId)) throw new AppError('not-found', 'That pot is not in this collection.');
      return potDriftOf(collection, potId, today()) ?? { notYet: NOT_FOLLOWED };
    },
  );
  app.get(
    '/api/drift/models',
    {
      ...plainList,
      schema: {
        querystring: z.object({ from: z.coerce.number().int().min(0).default(0) }),
        response: { 200: z.array(potModel) },
        tags: ['drift'],
      },
    },
    async (request) => modelsOf(await whole(), request.query.from, today()),
  );
  app.get(
    '/api/drift/acids',
    {
      schema: {
        querystring: z.object({
          mix: z.string().max(80),
          ph: z.coerce.number().min(4).max(8),
          litres: z.coerce.number().positive().max(1000),
        }),
        response: { 200: acidsSchema },
        tags: ['drift'],
      },
    },
    async (request) => {
      const { mix, ph, litres } = request.query;
      const now = await whole();
      const next = nextOfKey(now, mix, today());
      if (!next) throw new AppError('not-found', 'That mix was never made here, so its pH is not known.');
      return acidsFor(now, next, ph, litres);
    },
  );
  app.get(
    '/api/drift/mix',
    {
      schema: {
        querystring: z.object({ mix: z.string().max(80), by: localDate.optional() }),
        response: { 200: mixAdvice },
        tags: ['drift'],
      },
    },
    async (request) => adviseMix(await whole(), request.query.mix, today(), request.query.by ?? today()),
  );
  app.get('/api/drift/choices', { schema: { response: { 200: driftChoices }, tags: ['drift'] } }, async () =>
    choicesOf(await whole(), today()),
  );
  app.put(
    '/api/drift/acts/:id',
    { schema: { params: z.object({ id }), body: driftAct, response: { 200: actDone }, tags: ['drift'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (writer) =>
        actOnDrift(writer, request.params.id, request.body, { ...whenNow(context), zone: context.settings.zone }),
      );
      return { eventId: request.params.id, repeated };
    },
  );
};
