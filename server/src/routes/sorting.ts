import type { FastifyInstance } from 'fastify';
import { array, boolean, mixed, object, string, type InferType } from 'yup';
import { PILES, type Pile } from '@vitrocept/core';
import { HttpError, notFound } from '../httpError';
import { cleanName } from '../originals/bringIn';
import { emptyTrash } from '../originals/emptyTrash';
import type { Services } from '../services';
import { id, idParams, shootName, type ById } from './schemas';
import { shootSummary } from './views';

export const MOST_CHANGES = 5000;

const frameChange = object({
  id: id.required(),
  name: string().max(200).matches(/\S/, 'a frame needs a name').optional(),
  shootId: id.optional(),
  pileByHand: mixed<Pile>()
    .oneOf([...PILES])
    .nullable()
    .optional(),
  isRemoved: boolean().optional(),
}).noUnknown();
const changesBody = object({ changes: array().of(frameChange.required()).min(1).max(MOST_CHANGES).required() })
  .noUnknown()
  .required();
const shootBody = object({ name: shootName.optional(), isRemoved: boolean().optional() }).noUnknown().required();

/**
 * Frames and shoots renamed, moved, sorted by hand, removed and put back: all of it can be undone but emptying the
 * trash.
 */
export function sortingRoutes(app: FastifyInstance, services: Services): void {
  const { stores } = services;

  /** All of the changes or none. Undone by sending what was there before. */
  app.patch<{ Body: InferType<typeof changesBody> }>(
    '/api/frames',
    { schema: { body: changesBody } },
    (request, reply) => {
      const { changes } = request.body;
      for (const { id, shootId } of changes) {
        const frame = stores.frames.get(id);
        if (!frame) throw notFound('frame');
        if (shootId === undefined || shootId === frame.shootId) continue;
        const shoot = stores.shoots.get(shootId);
        if (!shoot || shoot.removedAt) throw notFound('shoot');
        const twin = stores.frames.twinOf(shootId, frame.sha256);
        if (twin) {
          const where = twin.removedAt ? ', in the trash' : '';
          throw new HttpError(
            409,
            'TWIN',
            `${frame.name} cannot be moved: “${shoot.name}” holds the same file already, as ${twin.name}${where}. Nothing was moved.`,
          );
        }
      }
      const cleaned = changes.map((change) => (change.name ? { ...change, name: cleanName(change.name) } : change));
      try {
        stores.frames.change(cleaned);
      } catch (error) {
        if ((error as { code?: string }).code !== 'SQLITE_CONSTRAINT_UNIQUE') throw error;
        throw new HttpError(409, 'TWIN', 'Two of these frames are the same file: one shoot cannot hold both.');
      }
      return reply.code(204).send();
    },
  );

  app.patch<ById & { Body: InferType<typeof shootBody> }>(
    '/api/shoots/:id',
    { schema: { params: idParams, body: shootBody } },
    (request) => {
      const { id } = request.params;
      const { name, isRemoved } = request.body;
      if (!stores.shoots.get(id)) throw notFound('shoot');
      if (name !== undefined) stores.shoots.rename(id, name.trim());
      if (isRemoved === true) stores.shoots.remove(id);
      if (isRemoved === false) stores.shoots.restore(id);
      return shootSummary(services, stores.shoots.get(id)!);
    },
  );

  app.get('/api/trash', () => ({ shoots: stores.trash.shoots(), frames: stores.trash.frames() }));

  /** For good: the only act that cannot be undone. */
  app.post('/api/trash/empty', () => {
    if (stores.trash.isBusy()) {
      throw new HttpError(409, 'BUSY', 'A frame in the trash is still being rendered. Stop that, or wait for it.');
    }
    return emptyTrash(services);
  });
}
