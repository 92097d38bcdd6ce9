import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { calendarKey, calendarMade, lookBack, sitterSheet, yearView } from '../../contract/season-pages.ts';
import { type SeasonView, keepPlan, seasonAct, seasonView } from '../../contract/season.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { bottleFacts, ready, rowsFor } from '../collection/index.ts';
import { plainAnswer } from '../plain-answer.ts';
import { whenNow } from '../when.ts';
import { calendarOf } from './calendar.ts';
import { fixedActs } from './fixed-acts.ts';
import { actOnSeason, keepThePlan } from './season-service.ts';
import { learnedOf } from './learned.ts';
import { lookBackOf } from './look-back.ts';
import { PLAN_DAYS, seasonOf } from './season-view.ts';
import { yearOf } from './season-year.ts';
import { sitterSheetOf } from './sitter-sheet.ts';

/** Season: what the plan of the coming weeks knows, and the plan that stands. A plan is made where it is looked at. */
export const seasonPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/season', { ...plainAnswer, schema: { response: { 200: seasonView }, tags: ['season'] } }, async () => {
    const today = whenNow(context).localDate;
    const manager = () => context.database.read.manager;
    const collection = await ready(manager, today);
    const rows = rowsFor(manager());
    return seasonOf(
      collection,
      today,
      fixedActs(rows, collection, today, PLAN_DAYS),
      learnedOf(rows, collection, today),
    );
  });
  app.get('/api/season/look-back', { schema: { response: { 200: lookBack }, tags: ['season'] } }, async () => {
    const today = whenNow(context).localDate;
    const manager = () => context.database.read.manager;
    const collection = await ready(manager, today);
    const rows = rowsFor(manager());
    return lookBackOf(rows, collection, today, learnedOf(rows, collection, today));
  });
  app.put(
    '/api/season/plan/:id',
    {
      schema: { params: z.object({ id }), body: keepPlan, response: { 200: actDone }, tags: ['season'] },
      bodyLimit: PLAN_BYTES,
    },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        keepThePlan(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );
  app.put(
    '/api/season/acts/:id',
    { schema: { params: z.object({ id }), body: seasonAct, response: { 200: actDone }, tags: ['season'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnSeason(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );
  app.get(
    '/api/season/sitter/:id',
    { schema: { params: z.object({ id }), response: { 200: sitterSheet }, tags: ['season'] } },
    async (request) => {
      const today = whenNow(context).localDate;
      return sitterSheetOf(await ready(() => context.database.read.manager, today), request.params.id, today);
    },
  );
  app.get('/api/season/year', { schema: { response: { 200: yearView }, tags: ['season'] } }, async () => {
    const today = whenNow(context).localDate;
    const manager = () => context.database.read.manager;
    const collection = await ready(manager, today);
    const rows = rowsFor(manager());
    const bottles = [...collection.bottles.values()]
      .filter(({ finishedOn }) => finishedOn === null)
      .flatMap((bottle) => {
        const product = collection.products.get(bottle.productId)?.row;
        const facts = product && bottleFacts(manager(), bottle, today);
        return product && facts && product.retiredOn === null ? [{ name: product.name, ...facts }] : [];
      });
    const { problem } = seasonOf(collection, today, [], learnedOf(rows, collection, today));
    return yearOf(rows, collection, today, litresADay(problem), bottles);
  });
  await app.register(calendarRoutes, { context });
};

/** Still water that all waterings take a day by their rotas, L. */
const litresADay = ({ lots }: SeasonView['problem']): number =>
  lots.reduce((sum, { feeds }) => {
    const days = feeds.reduce((all, feed) => all + feed.everyDays, 0);
    return sum + feeds.reduce((all, feed) => all + feed.stillL, 0) / days;
  }, 0);

/** The plan as a calendar: to keep, or to subscribe to by an address with a secret in it. */
const calendarRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const calendar = async (at: string | undefined) => {
    const today = whenNow(context).localDate;
    const manager = () => context.database.read.manager;
    const collection = await ready(manager, today);
    return calendarOf(rowsFor(manager()), collection, today, at);
  };
  const keptHash = async (): Promise<string | undefined> => {
    const rows = await context.database.read.manager.query<{ value: string }[]>(
      'SELECT value FROM setting WHERE key = ?',
      [CALENDAR_KEY],
    );
    return rows[0]?.value;
  };
  app.get('/api/season/plan.ics', { schema: { querystring: hour, tags: ['season'] } }, async (request, reply) =>
    reply
      .type('text/calendar; charset=utf-8')
      .header('content-disposition', 'attachment; filename="watering.ics"')
      .send(await calendar(request.query.at)),
  );
  app.get('/api/season/calendar', { schema: { response: { 200: calendarKey }, tags: ['season'] } }, async () => ({
    made: (await keptHash()) !== undefined,
  }));
  // Asked again it makes another: what it was is kept by nobody, only its digest.
  app.put(
    '/api/season/calendar/:id',
    { schema: { params: z.object({ id }), response: { 200: calendarMade }, tags: ['season'] } },
    async (request) => {
      const secret = randomBytes(24).toString('base64url');
      const { repeated } = await actOnce(context, request, request.params.id, async (manager) => {
        await manager.query(
          'INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value',
          [CALENDAR_KEY, digestOf(secret)],
        );
        return { repeated: false };
      });
      return { path: repeated ? '' : `/calendar/${secret}.ics`, repeated };
    },
  );
  app.get(
    '/calendar/:file',
    {
      schema: { params: z.object({ file: z.string().max(80) }), querystring: hour, tags: ['season'] },
      config: { open: 'entry' },
    },
    async (request, reply) => {
      const secret = /^([\w-]+)\.ics$/.exec(request.params.file)?.[1];
      const kept = await keptHash();
      const right =
        secret !== undefined && kept !== undefined && timingSafeEqual(Buffer.from(digestOf(secret)), Buffer.from(kept));
      if (!right) return reply.code(404).type('text/plain').send('There is no calendar at this address (any more).\n');
      return reply.type('text/calendar; charset=utf-8').send(await calendar(request.query.at));
    },
  );
};

const CALENDAR_KEY = 'calendarKey';
const digestOf = (secret: string) => createHash('sha256').update(secret).digest('hex');
const hour = z.object({
  at: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Give the hour as 08:00.')
    .optional(),
});

/** Some thousand pots, each with its days. */
const PLAN_BYTES = 8 * 1024 * 1024;
