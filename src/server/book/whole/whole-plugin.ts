import type { FastifyReply, FastifyRequest } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import type { Readable } from 'node:stream';
import { z } from 'zod';
import { id } from '../../../contract/common.ts';
import { bringState, type BringReport, type BringState } from '../../../contract/whole.ts';
import type { AppContext } from '../../app-context.ts';
import { AppError } from '../../app-error.ts';
import { growersScale, ready } from '../../collection/index.ts';
import { snapshotOf } from '../../database/snapshot.ts';
import { logJsonl, wholeJson } from '../../database/whole/write-whole.ts';
import { whenNow } from '../../when.ts';
import { inFileThread } from '../../database/file-thread.ts';
import { Bringer, type Bringing } from '../bringer.ts';
import { streamed, wholeZip } from './whole-out.ts';
import { wholeSchema } from './whole-schema.ts';

/** The largest file taken in: ten years of 500 pots with a photo a week. */
const MOST_BRING_BYTES = 4 * 1024 ** 3;
const ZIP_TYPE = 'application/zip';
/** A file is sent as bytes, whatever it is: it is looked into here. */
const FILE_TYPE = 'application/octet-stream';
/** They work on files, and one of them swaps the very one that looks wait for. */
const apart = { config: { apart: true } };

/** Everything, out and in: one JSON, or a ZIP with the photos. */
export const wholePlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const { database, lan } = context;
  const bringer = new Bringer<BringReport, 'whole'>(context, {
    mostBytes: MOST_BRING_BYTES,
    tooLarge: 'That file is larger than any collection. Nothing was changed.',
    read: (task) => inFileThread('bringWhole', task),
    again: false,
    refuses: ({ problems }) => problems.length > 0,
  });
  // It is read as soon as it is here.
  const told = (state: Bringing<BringReport>) => state as BringState;
  const requireHere = (request: FastifyRequest) => {
    if (lan.cameByNetwork(request.raw))
      throw new AppError('only-here', 'A whole collection is brought in on the computer that keeps this one.');
  };
  app.addContentTypeParser(FILE_TYPE, { bodyLimit: MOST_BRING_BYTES }, (_request, payload, done) =>
    done(null, payload),
  );
  const moment = () => snapshotOf(database.file, whenNow(context), database.oddLines);
  const saved = (reply: FastifyReply, type: string, ending: string) =>
    reply
      .type(type)
      .header('content-disposition', `attachment; filename="frugal-sip-${whenNow(context).localDate}${ending}"`);
  const schema = (type: string) => ({ schema: { tags: ['book'], produces: [type] } });

  app.get('/api/book/whole.json', schema('application/json'), (_request, reply) => {
    const raw = moment();
    return saved(reply, 'application/json; charset=utf-8', '.json').send(
      streamed(wholeJson(raw, context.clock.now()), () => raw.close()),
    );
  });
  app.get('/api/book/log.jsonl', schema('application/jsonl'), (_request, reply) => {
    const raw = moment();
    return saved(reply, 'application/jsonl; charset=utf-8', '-log.jsonl').send(
      streamed(logJsonl(raw), () => raw.close()),
    );
  });
  app.get('/api/book/whole.zip', schema(ZIP_TYPE), async (_request, reply) => {
    const collection = await ready(() => database.read.manager, whenNow(context).localDate);
    const zip = wholeZip(moment(), collection, growersScale(collection.meters), context.clock.now());
    return saved(reply, ZIP_TYPE, '.zip').send(zip);
  });
  app.get('/api/book/whole.schema.json', schema('application/schema+json'), (_request, reply) =>
    reply.type('application/schema+json').send(JSON.stringify(wholeSchema())),
  );

  app.post(
    '/api/book/bring',
    {
      schema: {
        querystring: z.object({ name: z.string().max(200).default('a file') }),
        response: { 200: bringState },
        tags: ['book'],
      },
      bodyLimit: MOST_BRING_BYTES,
      ...apart,
    },
    async (request) => {
      requireHere(request);
      if (request.headers['content-type'] !== FILE_TYPE)
        throw new AppError('backup-bad', 'Choose a JSON or ZIP that was saved under Book, Take it with you.');
      return told(await bringer.take(request.query.name, request.body as Readable, 'whole'));
    },
  );
  const one = { schema: { params: z.object({ id }), response: { 200: bringState }, tags: ['book'] }, ...apart };
  app.get('/api/book/bring/:id', one, async ({ params }) => told(bringer.state(params.id)));
  app.post('/api/book/bring/:id/stop', one, async ({ params }) => told(await bringer.stop(params.id)));
  app.post('/api/book/bring/:id/keep', one, async (request) => {
    requireHere(request);
    return told(await bringer.keep(request.params.id));
  });
};
