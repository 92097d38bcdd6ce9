import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { actDone } from '../../contract/shelf.ts';
import { demoOpened, planAct, planList, settingsValues, shellView } from '../../contract/shell.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { changeRecords } from '../database/records.ts';
import { openStream } from '../event-stream.ts';
import { whenNow } from '../when.ts';
import { actOnPlans, readClocks, readPlans } from './plans-service.ts';
import { reckoningNow, growersScale, metersOf, rowsFor } from '../collection/index.ts';

/** What every room needs first: the collection, its day, its clocks; settings; plans; and hearing of what others do. */
export const shellPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const reader = () => context.database.read.manager;

  app.get('/api/shell', { schema: { response: { 200: shellView }, tags: ['shell'] } }, async () => {
    const when = whenNow(context);
    const { collection, zone, units, currency } = context.settings;
    const shut = context.database.trouble();
    return {
      mode: context.mode,
      collection,
      now: when.at.toISOString(),
      today: when.localDate,
      zone,
      units,
      currency,
      version: context.version,
      trouble: shut?.words ?? context.trouble.words,
      ...(await whatIsThere(when)),
    };
  });
  /** Where the file cannot be read the page still stands: it leads to the backups. */
  const whatIsThere = async (when: ReturnType<typeof whenNow>) => {
    try {
      const { count: acts, firstAt } = await context.database.asOf(when);
      const manager = reader();
      const [count] = rowsFor(manager)<{ pots: number; shelf: number }>(`SELECT (SELECT count(*) FROM pot) AS pots,
                (SELECT count(*) FROM water) + (SELECT count(*) FROM meter) + (SELECT count(*) FROM tool) + (SELECT count(*) FROM product) AS shelf`);
      return {
        shut: false,
        ahead: firstAt === null ? null : { count: acts, firstAt },
        pots: count?.pots ?? 0,
        shelf: count?.shelf ?? 0,
        scale: growersScale(metersOf(manager)),
        clocks: readClocks(manager),
        reckoning: reckoningNow(manager),
      };
    } catch (error) {
      context.database.noteError(error);
      if (!context.database.trouble()) throw error;
      return { shut: true, ahead: null, pots: 0, shelf: 0, scale: 0.5, clocks: [], reckoning: null };
    }
  };

  app.get('/api/shell/plans', { schema: { response: { 200: planList }, tags: ['shell'] } }, async () => {
    const today = whenNow(context).localDate;
    return { today, plans: readPlans(reader(), today) };
  });
  app.put(
    '/api/shell/plans/acts/:id',
    { schema: { params: z.object({ id }), body: planAct, response: { 200: actDone }, tags: ['shell'] } },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnPlans(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );

  await settingsRoutes(app, { context });
  await changesRoute(app, { context });
  await demoRoutes(app, { context });
};

const settingsRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/shell/settings', { schema: { response: { 200: settingsValues }, tags: ['shell'] } }, async () => ({
    ...context.settings,
  }));
  app.put(
    '/api/shell/settings/:id',
    { schema: { params: z.object({ id }), body: settingsValues, response: { 200: actDone }, tags: ['shell'] } },
    async (request) => {
      const { workingDays, latitude, ...plain } = request.body;
      const values = {
        ...plain,
        workingDays: JSON.stringify([...workingDays].sort()),
        latitude: JSON.stringify(latitude),
      };
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        changeRecords(manager, {
          eventId: request.params.id,
          when: whenNow(context),
          group: 'Settings',
          words: 'Changed the settings',
          changes: Object.entries(values).map(([key, value]) => ({
            table: 'setting' as const,
            id: key,
            after: { value },
          })),
        }),
      );
      return { eventId: request.params.id, repeated };
    },
  );
};

const changesRoute: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  // The newest commit, and one line for every one that comes, so that another tab or phone sees at once what this one did.
  const ears = new Set<() => void>();
  context.database.write.onCommit(() => ears.forEach((ear) => ear()));
  app.get('/api/shell/changes', { schema: { tags: ['shell'] }, config: { apart: true } }, (_request, reply) => {
    const stream = openStream(reply);
    const ear = () => stream.tell(context.database.write.commits);
    ears.add(ear);
    ear();
    stream.gone.addEventListener('abort', () => ears.delete(ear));
  });
};

/** The demo is opened, copied, and hurried on. */
const demoRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const reader = () => context.database.read.manager;
  app.post('/api/shell/demo', { schema: { response: { 200: demoOpened }, tags: ['shell'] } }, async (request) => {
    if (!context.openDemo) throw new AppError('not-found', 'This is the demo already.');
    if (context.lan.cameByNetwork(request.raw))
      throw new AppError('only-here', 'The demo opens on the computer itself.');
    return { url: await context.openDemo() };
  });
  app.post(
    '/api/shell/copy-demo',
    { schema: { response: { 200: z.object({ pots: z.number() }) }, tags: ['shell'] } },
    async () => {
      if (!context.copyDemo) throw new AppError('not-found', 'This is the demo already.');
      const [count] = rowsFor(reader())<{ n: number }>(
        'SELECT (SELECT count(*) FROM pot) + (SELECT count(*) FROM water) AS n',
      );
      if (count && count.n > 0)
        throw new AppError(
          'in-use',
          'There is something in this collection already. A copy of the demo goes into an empty one only.',
        );
      await context.copyDemo();
      const [pots] = rowsFor(reader())<{ pots: number }>('SELECT count(*) AS pots FROM pot');
      return { pots: pots?.pots ?? 0 };
    },
  );
  app.post(
    '/api/shell/next-day',
    { schema: { response: { 200: z.object({ today: z.string() }) }, tags: ['shell'] } },
    async () => {
      if (!context.nextDay)
        throw new AppError('not-found', 'Days go by on their own here; only in the demo they can be hurried.');
      await context.nextDay();
      return { today: whenNow(context).localDate };
    },
  );
};
