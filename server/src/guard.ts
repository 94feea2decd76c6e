import type { FastifyInstance } from 'fastify';
import { HttpError } from './httpError';

const OWN_HOSTS = new Set(['127.0.0.1', 'localhost', '[::1]']);

function hostnameOf(address: string): string | null {
  try {
    return new URL(address).hostname;
  } catch {
    return null;
  }
}

/** Only pages of this very server may talk to it: foreign Host headers (rebinding) and foreign Origins are refused. */
export function guardOrigins(app: FastifyInstance): void {
  app.addHook('onRequest', (request, _reply, done) => {
    const host = request.headers.host ?? '';
    const { origin } = request.headers;
    const ownHost = OWN_HOSTS.has(hostnameOf(`http://${host}`) ?? '');
    if (!ownHost) throw new HttpError(421, 'FOREIGN_HOST', 'This server answers only to 127.0.0.1 and localhost.');
    if (origin !== undefined && origin !== `http://${host}`) {
      throw new HttpError(403, 'FOREIGN_ORIGIN', 'Requests from other sites are refused.');
    }
    done();
  });
}
