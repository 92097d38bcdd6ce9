import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type { IncomingMessage } from 'node:http';
import { AppError } from './app-error.ts';

/** What the guard asks about requests that came over the home network. */
export type Gate = {
  /** Did it come in by a network door? Anything else came in by the loopback. */
  cameByNetwork(request: IncomingMessage): boolean;
  /** Hosts (with port) under which those doors are known. */
  hosts(): ReadonlySet<string>;
  /** Is the device that asks let in? `renewed`: what it is to show from now on. */
  letIn(request: FastifyRequest): { renewed?: EntryCookie } | undefined;
  /** Scheme and host under which the request came: what its own page has for an origin. */
  originOf(request: IncomingMessage): string;
};

type EntryCookie = { name: string; value: string; maxAge: number; secure: boolean };

declare module 'fastify' {
  interface FastifyContextConfig {
    /** `page`: a file of the page itself. `entry`: the way in. Anything else needs a device that was let in. */
    open?: 'page' | 'entry';
    /** Does not look at the collection, or goes on for as long as somebody listens: a swap of the file does not wait for it. */
    apart?: boolean;
  }
}

/** "secure" where the line has a lock: over plain http it cannot be. HttpOnly and SameSite keep it from scripts and from other pages. */
export function setEntryCookie(reply: FastifyReply, { name, value, maxAge, secure }: EntryCookie): void {
  void reply.setCookie(name, value, { path: '/', httpOnly: true, sameSite: 'strict', maxAge, secure });
}

/** What a request came to, as the router understood it: never the spelling of its address. */
export const isOpen = (request: FastifyRequest) => request.is404 || request.routeOptions.config.open !== undefined;

/**
 * On this machine only this machine's own page may talk to the server: the Host must name the loopback (against DNS rebinding). Over the
 * home network the Host must be the door's own address, and every route but the page's files and the way in needs a device that was let in. A request that
 * changes something, and any that a browser says another page made, must come from the same origin either way.
 */
export function guardHostAndOrigin(app: FastifyInstance, gate?: Gate): void {
  app.addHook('onRequest', async (request, reply) => {
    const door = gate?.cameByNetwork(request.raw) ? gate : undefined;
    requireOwnPage(request, door);
    if (!door || isOpen(request)) return;
    const entered = door.letIn(request);
    if (!entered)
      throw new AppError(
        'not-let-in',
        'This device has not been let in yet. Type the passphrase, or read the code shown on the computer.',
      );
    if (entered.renewed) setEntryCookie(reply, entered.renewed);
  });
}

/** @param door it came by, over the home network @throws AppError `bad-origin` */
function requireOwnPage(request: FastifyRequest, door: Gate | undefined): void {
  // A whole address in the request line names a host of its own, past the one that is looked at here.
  if (!request.raw.url?.startsWith('/'))
    throw new AppError('bad-origin', 'The request was not understood and not carried out.');
  const host = request.headers.host ?? '';
  if (door ? !door.hosts().has(host) : !isLoopback(host))
    throw new AppError(
      'bad-origin',
      'This server answers only under its own address. Open it as it was printed when it started.',
    );
  const { origin } = request.headers;
  const own = door ? door.originOf(request.raw) : `http://${host}`;
  if ((origin !== undefined && origin !== own) || isForeign(request))
    throw new AppError('bad-origin', 'The request came from another page and was not carried out.');
}

/** Another page made it, as browsers tell since 2020 (Fetch Metadata). Following a link to a page of ours is nobody's harm. */
function isForeign({ headers, is404, routeOptions }: FastifyRequest): boolean {
  const site = headers['sec-fetch-site'];
  if (site === undefined || site === 'same-origin' || site === 'none') return false;
  const visit = headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document';
  return !(visit && (is404 || routeOptions.config.open === 'page'));
}

function isLoopback(host: string): boolean {
  return /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/.test(host);
}
