import type { FastifyRequest } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import type { Readable } from 'node:stream';
import { z } from 'zod';
import { id } from '../../../contract/common.ts';
import {
  MOST_SHEET_BYTES,
  sheetPlan,
  sheetState,
  type SheetPlanWire,
  type SheetReport,
  type SheetState,
} from '../../../contract/sheet.ts';
import type { AppContext } from '../../app-context.ts';
import { AppError } from '../../app-error.ts';
import { inFileThread } from '../../database/file-thread.ts';
import { idFrom } from '../../id-from.ts';
import { whenNow } from '../../when.ts';
import { Bringer, type Bringing } from '../bringer.ts';

const FILE_TYPE = 'application/octet-stream';
/** They work on files, and one of them swaps the very one that looks wait for. */
const apart = { config: { apart: true } };

/** Old records out of a spreadsheet, or a logger's file: sent, read as the grower says, told, and only then brought in. */
export const sheetPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const { lan, settings } = context;
  const actOf = (sheetId: string) => idFrom(sheetId, 'linesBrought');
  const bringer = new Bringer<SheetReport, SheetPlanWire>(context, {
    mostBytes: MOST_SHEET_BYTES,
    tooLarge: 'That file is larger than 200 MB. Bring it in a year at a time.',
    read: (task, plan, of) => {
      const { at, localDate } = whenNow(context);
      const when = { at: at.toISOString(), localDate, zone: settings.zone, units: settings.units };
      return inFileThread('bringSheet', { ...task, plan, name: of.name, actId: actOf(of.id), when });
    },
    again: true,
    refuses: ({ waterings, readings }) => waterings + readings === 0,
  });
  const requireHere = (request: FastifyRequest) => {
    if (lan.cameByNetwork(request.raw))
      throw new AppError('only-here', 'Old records are brought in on the computer that keeps the collection.');
  };
  const told = (state: Bringing<SheetReport>): SheetState => ({ ...state, actId: actOf(state.id) });
  const one = { schema: { params: z.object({ id }), response: { 200: sheetState }, tags: ['book'] }, ...apart };

  app.addContentTypeParser(FILE_TYPE, { bodyLimit: MOST_SHEET_BYTES }, (_request, payload, done) =>
    done(null, payload),
  );
  app.post(
    '/api/book/bring-table',
    {
      schema: {
        querystring: z.object({ name: z.string().max(200).default('a table') }),
        response: { 200: sheetState },
        tags: ['book'],
      },
      bodyLimit: MOST_SHEET_BYTES,
      ...apart,
    },
    async (request) => {
      requireHere(request);
      if (request.headers['content-type'] !== FILE_TYPE)
        throw new AppError('backup-bad', 'Choose a table saved as CSV.');
      return told(await bringer.take(request.query.name, request.body as Readable));
    },
  );
  app.get('/api/book/bring-table/:id', one, async ({ params }) => told(bringer.state(params.id)));
  app.post(
    '/api/book/bring-table/:id/read',
    { ...one, schema: { ...one.schema, body: sheetPlan }, bodyLimit: 4 * 1024 * 1024 },
    async (request) => {
      requireHere(request);
      return told(bringer.readAs(request.params.id, request.body));
    },
  );
  app.post('/api/book/bring-table/:id/stop', one, async ({ params }) => told(await bringer.stop(params.id)));
  app.post('/api/book/bring-table/:id/keep', one, async (request) => {
    requireHere(request);
    return told(await bringer.keep(request.params.id));
  });
};
