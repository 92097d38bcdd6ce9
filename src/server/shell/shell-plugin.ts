import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { demoOpened, shellView } from '../../contract/shell.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { growersScale, readMeters } from '../shelf/shelf-reader.ts';
import { whenNow } from '../when.ts';

/** What every room needs first, and the way from an empty folder into the demo. */
export const shellPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.get('/api/shell', { schema: { response: { 200: shellView }, tags: ['shell'] } }, async () => {
    const manager = context.database.read.manager;
    const when = whenNow(context);
    const [count] = await manager.query<{ pots: number }[]>('SELECT count(*) AS pots FROM pot');
    return {
      mode: context.mode,
      collection: context.settings.collection,
      now: when.at.toISOString(),
      today: when.localDate,
      zone: context.settings.zone,
      pots: count?.pots ?? 0,
      scale: growersScale(await readMeters(manager)),
      version: context.version,
    };
  });

  app.post('/api/shell/demo', { schema: { response: { 200: demoOpened }, tags: ['shell'] } }, async () => {
    if (!context.openDemo) throw new AppError('not-found', 'This is the demo already.');
    return { url: await context.openDemo() };
  });
};
