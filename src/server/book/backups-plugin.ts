import { createReadStream, createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import type { FastifyRequest } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { backupList, restored } from '../../contract/shell.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { noLargerThan } from './no-larger.ts';

/** They work on files, and one of them swaps the very one that looks wait for. */
const apart = { config: { apart: true } };
const named = z.object({ name: z.string().max(120) });
/** The largest file taken in: ten times the collection of a large grower after ten years. */
const MOST_BYTES = 512 * 1024 * 1024;
const TOO_LARGE = 'That file is larger than any collection. Choose a backup file.';

/** Backups: the list, one on request, taking one away or bringing one in, and putting one back in place. */
export const backupsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const { backups, lan } = context;
  const requireHere = (request: FastifyRequest) => {
    if (lan.cameByNetwork(request.raw))
      throw new AppError('only-here', 'Backups are put back on the computer that keeps the collection.');
  };
  app.addContentTypeParser('application/vnd.sqlite3', { bodyLimit: MOST_BYTES }, (_request, payload, done) =>
    done(null, payload),
  );

  app.get(
    '/api/book/backups',
    { schema: { response: { 200: backupList }, tags: ['book'] }, ...apart },
    async (request) => ({
      folder: lan.cameByNetwork(request.raw) ? null : backups.folder,
      backups: await backups.list(),
    }),
  );
  app.post(
    '/api/book/backups',
    { schema: { response: { 200: z.object({ name: z.string() }) }, tags: ['book'] }, ...apart },
    async () => ({
      name: await backups.make('asked', context.clock.now()),
    }),
  );
  app.get('/api/book/backups/:name', { schema: { params: named, tags: ['book'] }, ...apart }, (request, reply) => {
    const path = backups.pathOf(request.params.name);
    return reply
      .header('content-disposition', `attachment; filename="${request.params.name}"`)
      .type('application/vnd.sqlite3')
      .send(createReadStream(path));
  });
  app.post(
    '/api/book/backups/bring',
    { schema: { response: { 200: z.object({ name: z.string() }) }, tags: ['book'] }, bodyLimit: MOST_BYTES, ...apart },
    async (request) => {
      requireHere(request);
      if (request.headers['content-type'] !== 'application/vnd.sqlite3')
        throw new AppError('backup-bad', 'Choose a backup file, ending in .sqlite.');
      const incoming = backups.incoming(context.clock.now());
      try {
        await pipeline(request.body as Readable, noLargerThan(MOST_BYTES, TOO_LARGE), createWriteStream(incoming.part));
      } catch (error) {
        incoming.refuse();
        throw error;
      }
      return { name: await incoming.accept() };
    },
  );
  app.post(
    '/api/book/backups/:name/restore',
    { schema: { params: named, response: { 200: restored }, tags: ['book'] }, ...apart },
    async (request) => {
      requireHere(request);
      return { kept: await backups.restore(request.params.name, context.clock.now()) };
    },
  );
};
