import { Readable } from 'node:stream';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { tableForm, TABLES } from '../../contract/tables.ts';
import type { AppContext } from '../app-context.ts';
import { growersScale, ready, rowsFor } from '../collection/index.ts';
import { whenNow } from '../when.ts';
import { csvOf } from './tables.ts';

/** Tables for a spreadsheet (RFC 4180), written piece by piece: a long log is never held as one text. */
export const tablesPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  for (const name of TABLES)
    app.get(
      `/api/book/tables/${name}.csv`,
      { schema: { querystring: tableForm, tags: ['book'], produces: ['text/csv'] } },
      async (request, reply) => {
        const { localDate: today } = whenNow(context);
        const manager = () => context.database.read.manager;
        const collection = await ready(manager, today);
        const scale = request.query.scale ?? growersScale(collection.meters);
        const file = `${name}-${today}.csv`;
        return reply
          .type('text/csv; charset=utf-8; header=present')
          .header('content-disposition', `attachment; filename="${file}"`)
          .send(Readable.from(csvOf(name, { collection, rows: rowsFor(manager()), scale }, request.query)));
      },
    );
};
