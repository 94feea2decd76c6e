import type { FastifyInstance } from 'fastify';
import { object, type InferType } from 'yup';
import type { Services } from '../services';
import { bringIn } from '../originals/bringIn';
import { notFound } from '../httpError';
import { uploadedFile } from './uploaded';
import { idParams, shootName, type ById } from './schemas';
import { frameSummary, shootSummary } from './views';

const newShoot = object({ name: shootName.required() }).noUnknown().required();

export function shootRoutes(app: FastifyInstance, services: Services): void {
  const { stores } = services;
  app.get('/api/shoots', () => stores.shoots.all().map((shoot) => shootSummary(services, shoot)));

  app.post<{ Body: InferType<typeof newShoot> }>('/api/shoots', { schema: { body: newShoot } }, (request, reply) => {
    const { name } = request.body;
    return reply.status(201).send(shootSummary(services, stores.shoots.add(name.trim())));
  });

  app.get<ById>('/api/shoots/:id', { schema: { params: idParams } }, (request) => {
    const { id } = request.params;
    const shoot = stores.shoots.get(id);
    if (!shoot) throw notFound('shoot');
    return {
      ...shootSummary(services, shoot),
      frames: stores.sheets.framesOf(id),
    };
  });

  app.post<ById>('/api/shoots/:id/frames', { schema: { params: idParams } }, async (request, reply) => {
    const { id } = request.params;
    if (!stores.shoots.get(id)) throw notFound('shoot');
    const part = await uploadedFile(request);
    const { frame, known } = await bringIn(services, id, part.filename, part.file);
    return reply.status(known ? 200 : 201).send({ ...frameSummary(services, frame), known });
  });
}
