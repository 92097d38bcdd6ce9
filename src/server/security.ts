import type { FastifyInstance } from 'fastify';
import { AppError } from './app-error.ts';

/**
 * Only this machine's own page may talk to the server: the Host must name the loopback (against DNS rebinding), and a request that
 * changes something must come from the same origin.
 */
export function guardHostAndOrigin(app: FastifyInstance): void {
  app.addHook('onRequest', async (request) => {
    const host = request.headers.host ?? '';
    if (!isLoopback(host)) throw new AppError('bad-origin', 'This server answers only on this machine. Open it as http://127.0.0.1.');
    const origin = request.headers.origin;
    if (origin !== undefined && origin !== `http://${host}`) throw new AppError('bad-origin', 'The request came from another page and was not carried out.');
  });
}

function isLoopback(host: string): boolean {
  return /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/.test(host);
}
