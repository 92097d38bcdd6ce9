import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { bookPage } from '../../../contract/book.ts';
import { id, localDate } from '../../../contract/common.ts';
import { logChoices, logDays, logFilter, logSteps, logStrip, writeNote } from '../../../contract/log.ts';
import { POT_PHOTO_BODY } from '../../../contract/pot-photos.ts';
import { actDone } from '../../../contract/shelf.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { actOnce } from '../../act-once.ts';
import type { AppContext } from '../../app-context.ts';
import { AppError, fieldError } from '../../app-error.ts';
import { photoOf } from '../../database/photos.ts';
import { smallJpeg } from '../../small-jpeg.ts';
import { whenNow } from '../../when.ts';
import { writeTheNote } from '../note-service.ts';
import { fillIndex, indexNewLines } from './log-index.ts';
import { readChoices, readDays, readFound, readSteps, readStrip } from './log-view.ts';

/** Longest stretch of days counted at one go. */
const MOST_STRIP_DAYS = 400;
const STRIP_DAYS = 90;
/** Lines put into the index of words with an act: its own, and some that were left. */
const MOST_WITH_AN_ACT = 1000;

/** The log: read by day, found by words, and written in. */
export const logPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const { database, settings } = context;
  const manager = () => database.read.manager;
  // After many lines were brought in at once an act does not wait for all of them: the search puts in the rest.
  database.write.beforeCommit((manager) => indexNewLines(manager, MOST_WITH_AN_ACT));
  /** Whatever was written before there was an index is found too. */
  const found = async () => {
    await fillIndex(manager, (work) => database.write.run(work));
    return manager();
  };
  app.get(
    '/api/book/days',
    {
      schema: {
        querystring: z.object({ before: z.string().max(40).optional(), to: localDate.optional() }),
        response: { 200: logDays },
        tags: ['book'],
      },
    },
    async ({ query }) => readDays(manager(), whenNow(context), settings, query.before, query.to),
  );
  app.get(
    '/api/book/steps',
    { schema: { querystring: z.object({ key: z.string().max(80) }), response: { 200: logSteps }, tags: ['book'] } },
    async ({ query }) => {
      const steps = readSteps(manager(), query.key, whenNow(context), settings);
      if (!steps) throw new AppError('not-found', 'There is no such entry in the log.');
      return steps;
    },
  );
  app.get(
    '/api/book/found',
    {
      schema: {
        querystring: logFilter.extend({ before: z.coerce.number().int().positive().optional() }),
        response: { 200: bookPage },
        tags: ['book'],
      },
    },
    async ({ query: { before, ...filter } }) => readFound(await found(), filter, before, whenNow(context), settings),
  );
  app.get(
    '/api/book/strip',
    { schema: { querystring: logFilter, response: { 200: logStrip }, tags: ['book'] } },
    async ({ query: { from, to, ...filter } }) => {
      const last = to ?? whenNow(context).localDate;
      const first = from ?? plusDays(last, -STRIP_DAYS);
      if (plusDays(first, MOST_STRIP_DAYS) < last)
        throw fieldError('from', `Ask for ${MOST_STRIP_DAYS} days at the most.`);
      return readStrip(await found(), filter, first, last);
    },
  );
  app.get('/api/book/choices', { schema: { response: { 200: logChoices }, tags: ['book'] } }, async () =>
    readChoices(manager()),
  );
  app.put(
    '/api/book/notes/:id',
    {
      bodyLimit: POT_PHOTO_BODY,
      schema: { params: z.object({ id }), body: writeNote, response: { 200: actDone }, tags: ['book'] },
    },
    async (request) => {
      const { id: noteId } = request.params;
      const { image, ...note } = request.body;
      const jpeg = image === null ? null : await smallJpeg(Buffer.from(image, 'base64'));
      const { repeated } = await actOnce(context, request, noteId, (writer) =>
        writeTheNote(writer, noteId, note, jpeg, { ...whenNow(context), zone: settings.zone }),
      );
      return { eventId: noteId, repeated };
    },
  );
  app.get('/api/book/photos/:id', { schema: { params: z.object({ id }), tags: ['book'] } }, async (request, reply) => {
    const jpeg = await photoOf(manager(), request.params.id);
    if (!jpeg) throw new AppError('not-found', 'There is no such photo.');
    return reply.type('image/jpeg').header('cache-control', 'private, max-age=31536000, immutable').send(jpeg);
  });
};
