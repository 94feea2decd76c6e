import type { FastifyInstance } from 'fastify';
import type { Services } from '../services';

/** A stream of what changes, as server-sent events (WHATWG HTML, 9.2), for as long as the page listens. */
export function changeRoutes(app: FastifyInstance, { changes }: Services): void {
  app.get('/api/changes', { sse: { kind: 'only' } }, async (_request, reply) => {
    reply.sse.keepAlive();
    const stop = changes.listen((change) => {
      // Whoever went away meanwhile hears nothing; that is no error.
      reply.sse.send({ data: change }).catch(() => undefined);
    });
    reply.sse.onClose(stop);
    // The page knows by this that it hears everything from now on.
    await reply.sse.send({ data: { kind: 'listening' } });
  });
}
