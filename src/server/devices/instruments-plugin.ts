import { EventEmitter } from 'node:events';
import { randomUUID } from 'node:crypto';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { instrumentAct, instrumentsView, readingSent, sendReading } from '../../contract/instruments.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import type { SentReading } from '../database/entities.ts';
import { openStream } from '../event-stream.ts';
import { whenNow } from '../when.ts';
import { actOnInstruments, become, instrumentBy, instrumentsOf, newestOf } from './instrument-service.ts';

/** A reading no older than this is what the pen shows now. */
const FRESH_MS = 2 * 60_000;
/** So long a field waits for a pen to send. */
const WAITS_MS = 90_000;
const ASKS_EVERY_MS = 250;

/** Pens that send what they read: by a key, to the field that waits for it, or into the tray. */
export const instrumentsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const manager = () => context.database.read.manager;
  /** Fields that wait, by meter: only how many; which one has it is settled in the file. */
  const waiting = new Map<string, number>();
  const sent = new EventEmitter();

  app.get('/api/instruments', { schema: { response: { 200: instrumentsView }, tags: ['devices'] } }, async () =>
    instrumentsOf(manager(), whenNow(context)),
  );
  app.put(
    '/api/instruments/acts/:id',
    { schema: { params: z.object({ id }), body: instrumentAct, response: { 200: actDone }, tags: ['devices'] } },
    async (request) => {
      const { id: actId } = request.params;
      const { repeated } = await actOnce(context, request, actId, (writer) =>
        actOnInstruments(writer, actId, request.body, whenNow(context)),
      );
      return { eventId: actId, repeated };
    },
  );
  app.post(
    '/api/instruments/readings',
    {
      // A pen is no device that was let in: its key opens this one way and no other.
      config: { open: 'entry' },
      schema: {
        description:
          'A pen sends what it shows, in its own unit. Header: `Authorization: Bearer <key>`. Example: `{"shown": 131, "temperatureC": 21.5}`. The same `id` again is the same reading.',
        body: sendReading,
        response: { 200: readingSent },
        tags: ['devices'],
      },
    },
    async (request) => {
      const key = /^Bearer ([\w-]{1,80})$/.exec(request.headers.authorization ?? '')?.[1];
      const instrument = key === undefined ? undefined : await instrumentBy(manager(), key);
      if (!instrument)
        throw new AppError(
          'not-let-in',
          'That key is not known, or was withdrawn. Make one in the Book, under Instruments.',
        );
      const { id: readingId = randomUUID(), shown, temperatureC } = request.body;
      const at = whenNow(context).at.toISOString();
      const repeated = await context.database.write.run(async (writer) => {
        const [known] = await writer.query<SentReading[]>('SELECT * FROM sent_reading WHERE id = ?', [readingId]);
        if (known && (known.instrumentId !== instrument.id || known.shown !== shown))
          throw new AppError('id-reused', 'A reading with this number was sent already with another figure.');
        if (known) return true;
        await writer.query(
          'INSERT INTO sent_reading (id, instrumentId, at, shown, temperatureC) VALUES (?, ?, ?, ?, ?)',
          [readingId, instrument.id, at, shown, temperatureC],
        );
        return false;
      });
      if (!repeated) sent.emit(instrument.meterId);
      return { id: readingId, repeated, waits: (waiting.get(instrument.meterId) ?? 0) > 0 };
    },
  );
  waitRoute(app, context, waiting, sent);
};

/** A field waits for the next reading of a pen, as it waits for a simulated one to settle. */
function waitRoute(
  app: Parameters<typeof instrumentsPlugin>[0],
  context: AppContext,
  waiting: Map<string, number>,
  sent: EventEmitter,
): void {
  app.get(
    '/api/instruments/:meterId/next',
    { schema: { params: z.object({ meterId: id }), tags: ['devices'] }, config: { apart: true } },
    async (request, reply) => {
      const { meterId } = request.params;
      const stream = openStream(reply);
      waiting.set(meterId, (waiting.get(meterId) ?? 0) + 1);
      let came = true;
      const wake = () => (came = true);
      sent.on(meterId, wake);
      try {
        for (let waited = 0; waited < WAITS_MS && !stream.gone.aborted; waited += ASKS_EVERY_MS) {
          const look = came;
          // Before it is looked: what comes while it is looked for is looked for once more.
          came = false;
          const reading = look ? await take(meterId) : undefined;
          if (reading) {
            // Nobody is there any more: it lies in the tray again.
            if (stream.gone.aborted) await context.database.write.run((writer) => become(writer, reading.id, null));
            else stream.tell({ shown: reading.shown, settled: true });
            break;
          }
          await context.timers.wait(ASKS_EVERY_MS, stream.gone);
        }
      } finally {
        sent.off(meterId, wake);
        waiting.set(meterId, waiting.get(meterId)! - 1);
        stream.end();
      }
    },
  );

  /** The newest reading, for one field only: two that wait do not both have it. */
  const take = (meterId: string): Promise<SentReading | undefined> =>
    context.database.write.run(async (writer) => {
      const reading = await newestOf(writer, meterId, whenNow(context).at, FRESH_MS);
      if (reading) await become(writer, reading.id, 'taken');
      return reading;
    });
}
