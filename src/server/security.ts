import type { FastifyInstance, FastifyRequest } from 'fastify';
import type { IncomingMessage } from 'node:http';
import { AppError } from './app-error.ts';

/** What the guard asks about requests that came over the home network. */
export type Gate = {
  /** Did it come in by a network door? Anything else came in by the loopback. */
  cameByNetwork(request: IncomingMessage): boolean;
  /** Hosts (with port) under which those doors are known. */
  hosts(): ReadonlySet<string>;
  /** Is the device that asks let in? */
  isLetIn(request: FastifyRequest): Promise<boolean>;
};

/** Paths a device may ask for before it is let in: the page itself, and the way in. */
const OPEN_PATHS = /^(?!\/api\/)|^\/api\/shell\/enter(\?|$)/;

/**
 * On this machine only this machine's own page may talk to the server: the Host must name the loopback (against DNS rebinding). Over the
 * home network the Host must be the door's own address, and everything but the page needs a device that was let in. A request that changes
 * something must come from the same origin either way.
 */
export function guardHostAndOrigin(app: FastifyInstance, gate?: Gate): void {
  app.addHook('onRequest', async (request) => {
    const host = request.headers.host ?? '';
    const network = gate?.cameByNetwork(request.raw) ?? false;
    if (network ? !gate!.hosts().has(host) : !isLoopback(host))
      throw new AppError('bad-origin', 'This server answers only under its own address. Open it as it was printed when it started.');
    const origin = request.headers.origin;
    if (origin !== undefined && origin !== `http://${host}`) throw new AppError('bad-origin', 'The request came from another page and was not carried out.');
    if (network && !OPEN_PATHS.test(request.url) && !(await gate!.isLetIn(request)))
      throw new AppError('not-let-in', 'This device has not been let in yet. Type the passphrase, or read the code shown on the computer.');
  });
}

function isLoopback(host: string): boolean {
  return /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/.test(host);
}
