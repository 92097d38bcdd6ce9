import cookie from '@fastify/cookie';
import helmet, { type FastifyHelmetOptions } from '@fastify/helmet';
import rateLimit from '@fastify/rate-limit';
import fastifyStatic from '@fastify/static';
import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import Fastify, { type FastifyInstance, type RouteOptions } from 'fastify';
import type { FastifySerializerCompiler } from 'fastify/types/schema.js';
import type { z } from 'zod';
import {
  hasZodFastifySchemaValidationErrors,
  jsonSchemaTransform,
  validatorCompiler,
  type ZodTypeProvider,
} from 'fastify-type-provider-zod';
import { existsSync } from 'node:fs';
import { noteWhatIsAsked } from './act-once.ts';
import type { AppContext } from './app-context.ts';
import { AppError } from './app-error.ts';
import { codeOf, isDamage, isLocked, isStorage } from './database/raw.ts';
import { benchPlugin } from './bench/bench-plugin.ts';
import { backupsPlugin } from './book/backups-plugin.ts';
import { logPlugin } from './book/log/log-plugin.ts';
import { trialsPlugin } from './book/trials/trials-plugin.ts';
import { turnsPlugin } from './book/turns/turns-plugin.ts';
import { forecastsPlugin } from './book/forecasts/forecasts-plugin.ts';
import { schoolsPlugin } from './book/schools/schools-plugin.ts';
import { sheetPlugin } from './book/sheet/sheet-plugin.ts';
import { wholePlugin } from './book/whole/whole-plugin.ts';
import { tablesPlugin } from './book/tables-plugin.ts';
import { bookPlugin } from './book/book-plugin.ts';
import { clayPlugin } from './clay/clay-plugin.ts';
import { driftPlugin } from './drift/drift-plugin.ts';
import { seasonPlugin } from './season/season-plugin.ts';
import { instrumentsPlugin } from './devices/instruments-plugin.ts';
import { devicesPlugin } from './devices/devices-plugin.ts';
import { potsPlugin } from './pots/pots-plugin.ts';
import { advicePlugin } from './advice/advice-plugin.ts';
import { roundPlugin } from './round/round-plugin.ts';
import { guardHostAndOrigin, isOpen } from './security.ts';
import { shelfPlugin } from './shelf/shelf-plugin.ts';
import { lanPlugin } from './shell/lan-plugin.ts';
import { shellPlugin } from './shell/shell-plugin.ts';
import { whenNow } from './when.ts';

/** Of one device, a minute: twenty a second, several times what a hurried round makes. Load tests raise it. */
const MOST_REQUESTS = 1200;

export type AppOptions = {
  readonly context: AppContext;
  readonly webFolder?: string;
  readonly logger?: boolean;
  /** Told of every route, so that tests can try them all. */
  readonly onRoute?: (route: RouteOptions) => void;
};

const ROOMS = [
  shellPlugin,
  lanPlugin,
  roundPlugin,
  advicePlugin,
  benchPlugin,
  potsPlugin,
  bookPlugin,
  backupsPlugin,
  logPlugin,
  turnsPlugin,
  schoolsPlugin,
  forecastsPlugin,
  trialsPlugin,
  tablesPlugin,
  wholePlugin,
  sheetPlugin,
  shelfPlugin,
  clayPlugin,
  driftPlugin,
  seasonPlugin,
  devicesPlugin,
  instrumentsPlugin,
];

const SAFE_HEADERS = {
  contentSecurityPolicy: {
    // All of it stands here: the package's own list lets fonts and styles in from anywhere.
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      // The season's solver is WebAssembly; scripts still come from here alone.
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      scriptSrcAttr: ["'none'"],
      styleSrc: ["'self'"],
      fontSrc: ["'self'"],
      imgSrc: ["'self'", 'data:'],
      // The film of nothing that keeps a screen on over plain http (nosleep.js).
      mediaSrc: ["'self'", 'data:'],
      frameAncestors: ["'none'"],
      objectSrc: ["'none'"],
      baseUri: ["'none'"],
      formAction: ["'self'"],
    },
  },
  strictTransportSecurity: false,
} satisfies FastifyHelmetOptions;

/** Builds the server without listening, so that tests can inject requests. */
export async function buildApp({ context, webFolder, logger = false, onRoute }: AppOptions): Promise<FastifyInstance> {
  const app = Fastify({
    logger,
    bodyLimit: 256 * 1024,
    forceCloseConnections: true,
  }).withTypeProvider<ZodTypeProvider>();
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(answersBySchema);
  app.setErrorHandler((error, request, reply) => {
    context.database.noteError(error);
    const problem = toAppError(error, request.log).toProblem();
    void reply.status(problem.status).type('application/problem+json').serializer(JSON.stringify).send(problem);
  });
  await app.register(cookie);
  guardHostAndOrigin(app, context.lan);
  noteWhatIsAsked(app);
  await app.register(helmet, SAFE_HEADERS);
  await app.register(rateLimit, {
    max: Number(process.env['FRUGAL_SIP_REQUESTS'] ?? MOST_REQUESTS),
    timeWindow: '1 minute',
    // Counted by who asks: what is refused above is not counted at all, and strangers on the network use up nobody's share but their address's own.
    keyGenerator: (request) =>
      context.lan.cameByNetwork(request.raw) ? (context.lan.deviceOf(request) ?? `at ${request.ip}`) : 'this machine',
    allowList: (request) => isOpen(request) && request.routeOptions.config?.open !== 'entry',
    errorResponseBuilder: () => new AppError('too-many-requests', 'Wait a moment and try again; nothing was lost.'),
  });
  // While a backup takes the collection's place, looks wait a moment; acts wait in the write queue.
  app.addHook('onRequest', async (request, reply) => {
    if (request.method === 'PUT' || isOpen(request) || request.routeOptions.config.apart) return;
    const leave = await context.database.gate.enter();
    reply.raw.once('finish', leave).once('close', leave);
    if (!context.database.trouble()) await context.database.asOf(whenNow(context));
  });
  // Whoever wrote something is told which commit it was, and whoever asks which was there, so as not to fetch everything a second time when that
  // commit is announced. A stranger is told nothing: it would say when something is written.
  app.addHook('preHandler', async (request, reply) => {
    if (request.method !== 'PUT' && !isOpen(request)) reply.header('x-commit', context.database.write.commits);
  });
  app.addHook('onSend', async (request, reply) => {
    if (request.method === 'PUT') reply.header('x-commit', context.database.write.commits);
  });
  let pages = false;
  app.addHook('onRoute', (route) => {
    if (pages) route.config = { ...route.config, open: 'page' };
    onRoute?.(route);
  });
  await app.register(swagger, {
    openapi: { info: { title: 'Frugal Sip', version: context.version } },
    transform: jsonSchemaTransform,
  });
  await app.register(swaggerUi, { routePrefix: '/api/docs' });
  for (const plugin of ROOMS) await app.register(plugin, { context });

  if (webFolder && existsSync(webFolder)) {
    pages = true;
    await app.register(fastifyStatic, {
      root: webFolder,
      wildcard: false,
      setHeaders: (reply, path) => {
        reply.header('cache-control', /assets/.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache');
      },
    });
  }
  answerElsewhere(app, webFolder);
  return app;
}

/** An address that is no route: a page of ours where a browser asks for one, else a plain word. */
function answerElsewhere(app: FastifyInstance, webFolder: string | undefined): void {
  app.setNotFoundHandler((request, reply) => {
    const page =
      request.method === 'GET' &&
      (request.headers.accept ?? '').includes('text/html') &&
      !/\.\w+$/.test(request.url.split('?')[0] ?? '');
    if (webFolder && page && !request.url.startsWith('/api/'))
      return reply.header('cache-control', 'no-cache').sendFile('index.html');
    const problem = new AppError('not-found', 'There is nothing at this address.').toProblem();
    return reply.status(404).type('application/problem+json').send(JSON.stringify(problem));
  });
}

/**
 * Answers are checked against their schema, then written. The type provider's own way of doing so took three times as long: 15 ms more for
 * the round of 500 pots.
 */
const answersBySchema: FastifySerializerCompiler<z.ZodType> =
  ({ schema }) =>
  (data) =>
    JSON.stringify(schema.parse(data));

/** Any failure as data the page can show; the unexpected keeps its trace in the log and out of the answer. */
function toAppError(error: unknown, log: { error(error: unknown): void }): AppError {
  if (error instanceof AppError) return error;
  if (hasZodFastifySchemaValidationErrors(error)) {
    const errors = error.validation.map((issue) => ({
      path: issue.instancePath.replace(/^\//, '').replaceAll('/', '.'),
      message: issue.message ?? 'Check this field.',
    }));
    return new AppError('invalid-request', errors[0]?.message ?? 'Something typed does not fit.', { errors });
  }
  const status = (error as { statusCode?: number }).statusCode;
  if (status === 413)
    return new AppError('invalid-request', 'That is more than can be taken at once. Make it smaller.');
  if (status === 400 || status === 415) return new AppError('invalid-request', 'The request could not be read.');
  const storage = storageProblem(error);
  if (storage) return storage;
  log.error(error);
  if (process.env['FRUGAL_SIP_DEBUG']) console.error(error);
  return new AppError('internal', 'Something went wrong on our side. Nothing was logged; try it again.');
}

/** What the file refuses, told by SQLite's and the system's own codes: a disk that is full or cannot be written, a lock, damage, a thing that is not there. The act was rolled back and is kept by the sender. */
function storageProblem(error: unknown): AppError | undefined {
  const name = codeOf(error);
  if (isLocked(error))
    return new AppError(
      'locked',
      'Another program holds the collection, so nothing was logged. Close it; what you did is kept on your device and sent again.',
    );
  // A number that was a thing's once, or never: a foreign key tells of it where no field did.
  if (name === 'SQLITE_CONSTRAINT_FOREIGNKEY')
    return new AppError(
      'not-found',
      'Something that was chosen is not in this collection, or not any more. Reload the page and choose again; nothing was logged.',
    );
  if (name === 'SQLITE_MISMATCH')
    return new AppError(
      'invalid-request',
      'Something typed holds a sign that is no letter (a NUL). Take it out and try again; nothing was logged.',
    );
  if (isDamage(error))
    return new AppError(
      'damaged',
      'The collection’s file is damaged. Put a backup back: Book, Backups. What you did is kept on your device.',
    );
  // A look that was under way while a backup took the collection's place.
  if (/database is not open|has been finalized|not established|NotConnected/.test(String(error)))
    return new AppError('busy', 'A backup is being put in place. Wait a moment and try again; nothing was lost.');
  if (name === 'SQLITE_FULL' || name === 'ENOSPC' || name === 'EDQUOT')
    return new AppError(
      'disk-full',
      'The disk is full, so nothing was logged. Free some space; what you did is kept on your device and sent again.',
    );
  if (isStorage(error))
    return new AppError(
      'cannot-write',
      'The data folder cannot be written, so nothing was logged. Check the folder; what you did is kept on your device.',
    );
  return undefined;
}
