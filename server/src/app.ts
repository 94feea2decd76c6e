import helmet from '@fastify/helmet';
import multipart from '@fastify/multipart';
import sse from '@fastify/sse';
import fastifyStatic from '@fastify/static';
import { LIMITS } from '@vitrocept/files';
import fastify, { type FastifyInstance } from 'fastify';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { guardOrigins } from './guard';
import { answerErrors } from './httpError';
import { changeRoutes } from './routes/changes';
import { frameRoutes } from './routes/frames';
import { handOffRoutes } from './routes/handOffs';
import { keptRoutes } from './routes/kept';
import { practiceRoutes } from './routes/practice';
import { proofRoutes } from './routes/proofs';
import { renderRoutes } from './routes/renders';
import { maskRoutes } from './routes/masks';
import { versionRoutes } from './routes/versions';
import { roundRoutes } from './routes/rounds';
import { shootRoutes } from './routes/shoots';
import { sortingRoutes } from './routes/sorting';
import type { Services } from './services';
import { validateRequests } from './validateRequests';

const MOST_BODY_BYTES = 16 * 1024 * 1024;

/** The server without listening. `pageFolder` holds the built page. */
/** @param truths - The scenes of the practice camera. */
export async function buildApp(
  services: Services,
  pageFolder: string,
  truths = join(pageFolder, '..', '..', 'demo', 'truth'),
): Promise<FastifyInstance> {
  const app = fastify({ bodyLimit: MOST_BODY_BYTES, forceCloseConnections: true });
  validateRequests(app);
  guardOrigins(app);
  answerErrors(app, services.log);
  await app.register(helmet, {
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        workerSrc: ["'self'", 'blob:'],
        upgradeInsecureRequests: null,
      },
    },
    // Shared memory between the page and its workers, with which they are told to stop, needs both.
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    hsts: false,
  });
  await app.register(multipart, { limits: { files: 1, fileSize: LIMITS.fileBytes + 1, fields: 0 } });
  await app.register(sse);
  changeRoutes(app, services);
  shootRoutes(app, services);
  sortingRoutes(app, services);
  frameRoutes(app, services);
  renderRoutes(app, services);
  proofRoutes(app, services);
  practiceRoutes(app, services, truths);
  keptRoutes(app, services);
  roundRoutes(app, services);
  handOffRoutes(app, services);
  maskRoutes(app, services);
  versionRoutes(app, services);
  if (existsSync(pageFolder)) {
    await app.register(fastifyStatic, { root: pageFolder, wildcard: false });
    app.get('/*', (request, reply) => {
      if (request.url.startsWith('/api/')) return reply.callNotFound();
      return reply.sendFile('index.html');
    });
  }
  return app;
}
