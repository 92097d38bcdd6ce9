import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { id } from '../../contract/common.ts';
import { lastMeasuredOf, measurePot } from './measure-service.ts';
import { keepPotPhoto as keepPotPhotoBody, POT_PHOTO_BODY } from '../../contract/pot-photos.ts';
import { lastMeasured, measurePot as measurePotBody, potsAct, potsView, potView } from '../../contract/pots.ts';
import { schoolsView, whatChanges } from '../../contract/regimens.ts';
import { actDone } from '../../contract/shelf.ts';
import { actOnce } from '../act-once.ts';
import type { AppContext } from '../app-context.ts';
import { collectionOf, ready, rowsFor } from '../collection/index.ts';
import { plainAnswer } from '../plain-answer.ts';
import { AppError } from '../app-error.ts';
import { whenNow } from '../when.ts';
import { photoOf } from '../database/photos.ts';
import { keepPotPhoto } from './pot-photos.ts';
import { smallJpeg } from '../small-jpeg.ts';
import { actOnPots } from './pots-service.ts';
import { potItemOf, potsViewOf, potViewOf, readPotLog } from './pots-view.ts';
import { schoolsViewOf, whatWouldChange } from './what-changes.ts';

/** A list of a thousand pots, each with everything written of it, comes to about 1 MB. */
const LIST_BYTES = 4 * 1024 * 1024;

/** Pots: the collection, one pot's history, and every act on them. */
export const potsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const today = () => whenNow(context).localDate;
  const manager = () => context.database.read.manager;
  const collection = () => collectionOf(manager());
  const whole = () => ready(manager, today(), potItemOf);
  app.get('/api/pots', { ...plainAnswer, schema: { response: { 200: potsView }, tags: ['pots'] } }, async () =>
    potsViewOf(await whole(), today()),
  );

  app.get(
    '/api/pots/:id',
    { schema: { params: z.object({ id }), response: { 200: potView }, tags: ['pots'] } },
    async (request) => {
      await whole();
      const now = collection();
      const found = potViewOf(now, request.params.id, today(), readPotLog(manager(), now, request.params.id));
      if (!found) throw new AppError('not-found', 'There is no such pot in this collection.');
      return found;
    },
  );

  app.get('/api/pots/measured', { schema: { response: { 200: lastMeasured }, tags: ['pots'] } }, async () =>
    lastMeasuredOf(rowsFor(manager()), collection()),
  );

  app.get('/api/pots/schools', { schema: { response: { 200: schoolsView }, tags: ['pots'] } }, async () =>
    schoolsViewOf(collection()),
  );

  app.post(
    '/api/pots/regimens/:id/what-changes',
    {
      schema: {
        params: z.object({ id }),
        body: z.object({ potIds: z.array(id).min(1).max(5000) }),
        response: { 200: whatChanges },
        tags: ['pots'],
      },
    },
    async (request) =>
      whatWouldChange(await whole(), { potIds: request.body.potIds, regimenId: request.params.id }, today()),
  );

  app.put(
    '/api/pots/acts/:id',
    {
      schema: { params: z.object({ id }), body: potsAct, response: { 200: actDone }, tags: ['pots'] },
      bodyLimit: LIST_BYTES,
    },
    async (request) => {
      const { repeated } = await actOnce(context, request, request.params.id, (manager) =>
        actOnPots(manager, request.params.id, request.body, whenNow(context)),
      );
      return { eventId: request.params.id, repeated };
    },
  );

  app.put(
    '/api/pots/:id/measures/:measureId',
    {
      schema: {
        params: z.object({ id, measureId: id }),
        body: measurePotBody,
        response: { 200: actDone },
        tags: ['pots'],
      },
    },
    async (request) => {
      const { id: potId, measureId } = request.params;
      const when = { ...whenNow(context), zone: context.settings.zone };
      const { repeated } = await actOnce(context, request, measureId, (manager) =>
        measurePot(manager, potId, measureId, request.body, when),
      );
      return { eventId: measureId, repeated };
    },
  );

  await photoRoutes(app, { context });
};

const photoRoutes: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  app.put(
    '/api/pots/:id/photos/:photoId',
    {
      bodyLimit: POT_PHOTO_BODY,
      schema: {
        params: z.object({ id, photoId: id }),
        body: keepPotPhotoBody,
        response: { 200: actDone },
        tags: ['pots'],
      },
    },
    async (request) => {
      const { id: potId, photoId } = request.params;
      // Made small before it waits in line for the log: it takes a second or two.
      const jpeg = await smallJpeg(Buffer.from(request.body.image, 'base64'));
      const { repeated } = await actOnce(context, request, photoId, async (manager) => ({
        repeated: await keepPotPhoto(manager, potId, photoId, jpeg, whenNow(context)),
      }));
      return { eventId: photoId, repeated };
    },
  );

  app.get('/api/pots/photos/:id', { schema: { params: z.object({ id }), tags: ['pots'] } }, async (request, reply) => {
    const jpeg = await photoOf(context.database.read.manager, request.params.id);
    if (!jpeg) throw new AppError('not-found', 'There is no such photo.');
    return reply.type('image/jpeg').header('cache-control', 'private, max-age=31536000, immutable').send(jpeg);
  });
};
