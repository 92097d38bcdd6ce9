import type { FastifyReply } from 'fastify';

/** A line that stays open, on which something is told now and then (server-sent events). `gone` is aborted once nobody listens any more. */
export type EventStream = {
  readonly gone: AbortSignal;
  tell(what: unknown): void;
  end(): void;
};

/** Takes the answer out of Fastify's hands. */
export function openStream(reply: FastifyReply): EventStream {
  const gone = new AbortController();
  reply.raw.on('close', () => gone.abort());
  reply.hijack();
  reply.raw.writeHead(200, {
    'content-type': 'text/event-stream',
    'cache-control': 'no-store',
    connection: 'keep-alive',
  });
  // The line is open before anything is told on it.
  reply.raw.flushHeaders();
  return {
    gone: gone.signal,
    tell: (what) => void reply.raw.write(`data: ${JSON.stringify(what)}\n\n`),
    end: () => void reply.raw.end(),
  };
}
