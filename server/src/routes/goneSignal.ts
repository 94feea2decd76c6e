import type { FastifyReply } from 'fastify';

/** Aborts when whoever asked is gone before the answer. */
export function goneSignal({ raw }: FastifyReply): AbortSignal {
  const gone = new AbortController();
  raw.once('close', () => raw.writableFinished || gone.abort());
  return gone.signal;
}
