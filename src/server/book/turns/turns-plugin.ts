import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import type { EntityManager } from 'typeorm';
import { z } from 'zod';
import { id } from '../../../contract/common.ts';
import { actDone } from '../../../contract/shelf.ts';
import {
  markTurn,
  turnCompareAsked,
  turnCompared,
  turnsAsked,
  turnsView,
  type MarkTurn,
} from '../../../contract/turns.ts';
import { actOnce } from '../../act-once.ts';
import type { AppContext } from '../../app-context.ts';
import { AppError, fieldError } from '../../app-error.ts';
import { pastOf, rowsFor } from '../../collection/index.ts';
import type { TurnMark } from '../../database/entities.ts';
import { changeRecords } from '../../database/records.ts';
import { whenNow } from '../../when.ts';
import { comparedAt, turnsView as viewOf } from './turns-view.ts';

/** Turns: what was changed and when, and what followed. */
export const turnsPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const manager = () => context.database.read.manager;
  app.get(
    '/api/book/turns',
    { schema: { querystring: turnsAsked, response: { 200: turnsView }, tags: ['book'] } },
    async ({ query }) => {
      const { collection, past } = await pastOf(manager);
      return viewOf(rowsFor(manager()), collection, past, query, whenNow(context).localDate);
    },
  );
  app.get(
    '/api/book/turns/compared',
    { schema: { querystring: turnCompareAsked, response: { 200: turnCompared }, tags: ['book'] } },
    async ({ query }) => {
      const { collection, past } = await pastOf(manager);
      const compared = comparedAt(rowsFor(manager()), collection, past, query, whenNow(context).localDate);
      if (!compared) throw new AppError('not-found', 'There is no such turn: what made it was taken back.');
      return compared;
    },
  );
  app.put(
    '/api/book/turns/marks/:id',
    { schema: { params: z.object({ id }), body: markTurn, response: { 200: actDone }, tags: ['book'] } },
    async (request) => {
      const { id: actId } = request.params;
      const { repeated } = await actOnce(context, request, actId, (writer) =>
        markTheTurn(writer, actId, request.body, whenNow(context)),
      );
      return { eventId: actId, repeated };
    },
  );
};

/** Notes what the grower says of a turn. @throws AppError at `joinedTo` where it would be joined to itself, or round and round */
async function markTheTurn(manager: EntityManager, actId: string, mark: MarkTurn, when: ReturnType<typeof whenNow>) {
  const marks = manager.getRepository<TurnMark>('turn_mark');
  const was = (await marks.findOneBy({ id: mark.id })) ?? { name: '', hidden: 0, joinedTo: null };
  if (mark.joinedTo) {
    if (mark.joinedTo === mark.id) throw fieldError('joinedTo', 'A turn cannot be part of itself. Choose another.');
    const into = await marks.findOneBy({ id: mark.joinedTo });
    const parts = await marks.findOneBy({ joinedTo: mark.id });
    if (into?.joinedTo || parts) throw fieldError('joinedTo', 'One of the two is joined already. Part them first.');
  }
  const after = {
    name: mark.name ?? was.name,
    hidden: mark.hidden === undefined ? was.hidden : mark.hidden ? 1 : 0,
    joinedTo: mark.joinedTo === undefined ? was.joinedTo : mark.joinedTo,
  };
  return changeRecords(manager, {
    eventId: actId,
    when,
    group: 'Settings',
    words: wordsOf(mark),
    changes: [{ table: 'turn_mark', id: mark.id, after }],
  });
}

function wordsOf({ name, hidden, joinedTo }: MarkTurn): string {
  if (name !== undefined) return name === '' ? 'A turn is called as it was found again' : `Called a turn “${name}”`;
  if (hidden !== undefined) return hidden ? 'Hid a turn' : 'Showed a turn again';
  return joinedTo ? 'Joined two turns' : 'Parted two turns';
}
