import type { FastifyRequest } from 'fastify';
import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { enterRequest, lanAct, lanView, lockFacts, pairing, pairingRequest } from '../../contract/shell.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import { setEntryCookie } from '../security.ts';
import { deviceWords } from './lan.ts';

/** Letting other devices in over the home network. The doors are opened and shut on the machine itself only. */
export const lanPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const { lan } = context;
  const here = (request: FastifyRequest) => !lan.cameByNetwork(request.raw);
  const requireHere = (request: FastifyRequest) => {
    if (!here(request)) throw new AppError('only-here', 'Do this on the computer that keeps the collection.');
  };

  app.get('/api/shell/lan', { schema: { response: { 200: lanView }, tags: ['shell'] } }, (request) =>
    lan.view(here(request)),
  );
  app.put(
    '/api/shell/lan',
    { schema: { body: lanAct, response: { 200: lanView }, tags: ['shell'] } },
    async (request) => {
      requireHere(request);
      const act = request.body;
      if (act.kind === 'open') await lan.open(act.passphrase);
      else if (act.kind === 'close') await lan.shut();
      else if (act.kind === 'lock') await lan.setLock(act.on);
      else lan.showOut(act.device);
      return lan.view(true);
    },
  );
  app.post(
    '/api/shell/lan/pairing',
    { schema: { body: pairingRequest, response: { 200: pairing }, tags: ['shell'] } },
    async (request) => {
      requireHere(request);
      return lan.pairing(request.body.lock);
    },
  );

  // A phone needs these before it is let in: what it is to trust, and where it goes then. Neither is a secret.
  app.get(
    '/api/shell/lock',
    { schema: { response: { 200: lockFacts }, tags: ['shell'] }, config: { open: 'entry', apart: true } },
    async () => {
      const trust = await lan.trust();
      return { fingerprint: trust?.fingerprint ?? '', url: trust?.url ?? null };
    },
  );
  app.get(
    '/api/shell/lock/authority.crt',
    { schema: { tags: ['shell'] }, config: { open: 'entry', apart: true } },
    async (_request, reply) => {
      const trust = await lan.trust();
      if (!trust) throw new AppError('not-found', 'No door with a lock is open just now.');
      return reply
        .type('application/x-x509-ca-cert')
        .header('content-disposition', 'attachment; filename="frugal-sip.crt"')
        .send(trust.certificate);
    },
  );

  app.post(
    '/api/shell/enter',
    {
      schema: { body: enterRequest, response: { 200: z.object({ in: z.literal(true) }) }, tags: ['shell'] },
      bodyLimit: 2048,
      config: { open: 'entry' },
    },
    async (request, reply) => {
      setEntryCookie(
        reply,
        await lan.enter(request.body, request.ip, deviceWords(request.headers['user-agent'] ?? ''), request.raw),
      );
      return { in: true as const };
    },
  );
};
