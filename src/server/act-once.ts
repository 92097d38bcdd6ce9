import { createHash } from 'node:crypto';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import type { EntityManager } from 'typeorm';
import type { ManyDone } from '../contract/common.ts';
import type { AppContext } from './app-context.ts';
import { AppError } from './app-error.ts';
import type { ActRequest } from './database/entities.ts';

declare module 'fastify' {
  interface FastifyRequest {
    /** SHA-256 of what was asked: route, parameters, and the body as it was sent. */
    askedDigest?: string;
  }
}

/** Notes what was asked before anything is read into it: a default added to the contract must not make a repeat look like another act. */
export function noteWhatIsAsked(app: FastifyInstance): void {
  app.addHook('preValidation', async (request) => {
    if (request.method !== 'PUT') return;
    request.askedDigest = createHash('sha256')
      .update(JSON.stringify([request.routeOptions.url, request.params, request.body ?? null], inOrder))
      .digest('hex');
  });
}

/**
 * Carries one act of the grower out, in one transaction, once: its number with the same contents again is a repeat, whatever became of the act since; with
 * other contents it is refused.
 * @param again what a repeat is answered with, where more than that it is one
 * @throws AppError `id-reused`, and what `work` throws
 */
export function actOnce<T extends { repeated: boolean }>(
  context: Pick<AppContext, 'database'>,
  request: FastifyRequest,
  id: string,
  work: (manager: EntityManager) => Promise<T>,
  again?: (manager: EntityManager) => Promise<T>,
): Promise<T | { repeated: true }> {
  const digest = request.askedDigest!;
  return context.database.write.run(async (manager) => {
    const [known] = await manager.query<ActRequest[]>('SELECT digest FROM act_request WHERE id = ?', [id]);
    if (known) {
      if (known.digest !== digest)
        throw new AppError(
          'id-reused',
          'An act with this number is already logged with other contents. Nothing was logged; reload the page and do it again.',
        );
      return again ? await again(manager) : { repeated: true };
    }
    const done = await work(manager);
    await manager.query('INSERT INTO act_request (id, digest) VALUES (?, ?)', [id, digest]);
    return done;
  });
}

/** What a repeat of several alike is answered with: the lines the first one wrote. */
export async function manyAgain(
  manager: EntityManager,
  asked: readonly { readonly eventId: string }[],
): Promise<ManyDone> {
  const rows = await manager.query<{ id: string }[]>(
    'SELECT id FROM care_event WHERE id IN (SELECT value FROM json_each(?))',
    [JSON.stringify(asked.map(({ eventId }) => eventId))],
  );
  return { loggedIds: rows.map((row) => row.id), already: [], repeated: true };
}

/** The same contents in another order are the same. */
function inOrder(_key: string, value: unknown): unknown {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));
}
