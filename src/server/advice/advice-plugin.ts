import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { adviceAct, adviceRoom, penAct, potAdvice, rulesView, unsteadyView } from '../../contract/advice.ts';
import { id } from '../../contract/common.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { ready } from '../collection/index.ts';
import { plainAnswer } from '../plain-answer.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { actOnAdvice } from './advice-service.ts';
import { actOnPen } from './pens.ts';
import { unsteadyViewOf } from './unsteady.ts';
import { adviceView, judgedPot, potAdviceView, readRules } from './advice-view.ts';

/** Judgement: what one would do next and why, for a pot and for the collection, and the grower's answers. */
export const advicePlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const today = () => whenNow(context).localDate;
  const whole = () => ready(() => context.database.read.manager, today(), judgedPot);
  app.get('/api/advice', { ...plainAnswer, schema: { response: { 200: adviceRoom }, tags: ['advice'] } }, async () =>
    adviceView(await whole(), today()),
  );

  app.get('/api/advice/rules', { schema: { response: { 200: rulesView }, tags: ['advice'] } }, async () => readRules());

  app.get(
    '/api/advice/pots/:id',
    { schema: { params: z.object({ id }), response: { 200: potAdvice }, tags: ['advice'] } },
    async (request) => {
      const found = potAdviceView(await whole(), request.params.id, today());
      if (!found) throw new AppError('not-found', 'There is no such pot in this collection.');
      return found;
    },
  );

  app.get(
    '/api/advice/pots/:id/unsteady',
    { schema: { params: z.object({ id }), response: { 200: unsteadyView }, tags: ['advice'] } },
    async (request) => {
      const found = unsteadyViewOf(await whole(), request.params.id, today());
      if (!found) throw new AppError('not-found', 'There is no such pot in this collection.');
      return found;
    },
  );

  app.put(
    '/api/advice/acts/:id',
    { schema: { params: z.object({ id }), body: adviceAct, response: { 200: actDone }, tags: ['advice'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnAdvice(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );

  app.put(
    '/api/advice/pens/:id',
    { schema: { params: z.object({ id }), body: penAct, response: { 200: actDone }, tags: ['advice'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnPen(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );
};
