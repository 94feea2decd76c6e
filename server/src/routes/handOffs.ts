import type { FastifyInstance } from 'fastify';
import { mixed, number, object, type InferType } from 'yup';
import { DEFAULT_JPEG_QUALITY, SAVE_FORMATS, type SaveFormat } from '@vitrocept/core';
import type { HandOff, HandOffFile } from '../db/handOffs';
import { folderCalled, folderUnder } from '../folderNames';
import { HttpError, notFound } from '../httpError';
import type { Services } from '../services';
import { folderName, id, idParams, type ById } from './schemas';

const ways = {
  shootId: id.required(),
  /** Null: files only come in. */
  keptId: id.nullable().defined(),
  format: mixed<SaveFormat>()
    .oneOf([...SAVE_FORMATS])
    .required(),
  quality: number().integer().min(1).max(100),
};
const newHandOff = object({ ...ways, folder: folderName.matches(/\S/, 'a folder needs a name').required() })
  .noUnknown()
  .required();
const changed = object(ways).noUnknown().required();

export interface HandOffDetail extends HandOff {
  /** Where files are laid, and where results are found. */
  readonly inbox: string;
  readonly results: string;
  readonly shootName: string;
  readonly keptName: string | null;
  readonly files: readonly HandOffFile[];
}

/** Empty for a name that an earlier version let through: nothing is watched or written there. */
function placeOf(root: string, name: string): string {
  try {
    return folderUnder(root, name);
  } catch {
    return '';
  }
}

/** Watched folders: made, changed, given up. The folder itself and what lies in it stay. */
export function handOffRoutes(app: FastifyInstance, services: Services): void {
  const { stores, folder, handOffs } = services;
  const detail = (handOff: HandOff): HandOffDetail => ({
    ...handOff,
    inbox: placeOf(folder.handOff, handOff.folder),
    results: placeOf(folder.outbox, handOff.folder),
    shootName: stores.shoots.get(handOff.shootId)!.name,
    keptName: (handOff.keptId && stores.kept.get(handOff.keptId)?.kept.name) || null,
    files: stores.handOffs.filesOf(handOff.id),
  });
  const known = ({ id: own }: ById['Params']) => {
    const found = stores.handOffs.get(own);
    if (!found) throw notFound('hand-off folder');
    return found;
  };
  const checked = <W extends InferType<typeof changed>>(wish: W) => {
    const shoot = stores.shoots.get(wish.shootId);
    if (!shoot || shoot.removedAt) throw notFound('shoot');
    if (wish.keptId && !stores.kept.get(wish.keptId)) throw notFound('kept prescription');
    return { ...wish, quality: wish.quality ?? DEFAULT_JPEG_QUALITY };
  };

  app.get('/api/hand-offs', () => stores.handOffs.all().map(detail));

  app.post<{ Body: InferType<typeof newHandOff> }>(
    '/api/hand-offs',
    { schema: { body: newHandOff } },
    async (request, reply) => {
      const wish = { ...checked(request.body), folder: folderCalled(request.body.folder) };
      if (stores.handOffs.all().some((other) => other.folder.toLowerCase() === wish.folder.toLowerCase()))
        throw new HttpError(409, 'TAKEN', `There is a hand-off folder called ${wish.folder} already.`);
      const made = stores.handOffs.add(wish);
      await handOffs.renew();
      return reply.status(201).send(detail(made));
    },
  );

  app.put<ById & { Body: InferType<typeof changed> }>(
    '/api/hand-offs/:id',
    { schema: { params: idParams, body: changed } },
    (request) => {
      const { id: own } = known(request.params);
      stores.handOffs.change(own, checked(request.body));
      return detail(known(request.params));
    },
  );

  app.delete<ById>('/api/hand-offs/:id', { schema: { params: idParams } }, async (request, reply) => {
    stores.handOffs.remove(known(request.params).id);
    await handOffs.renew();
    return reply.code(204).send();
  });
}
