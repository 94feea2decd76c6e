import type { FastifyInstance } from 'fastify';
import { object, string, type InferType } from 'yup';
import { isWhole, readSamples, type SampleFile } from '@vitrocept/files';
import type { Frame } from '../db/frames';
import type { OutsideVersion } from '../db/outsideVersions';
import { bringInVersion, MOST_VERSIONS } from '../originals/bringInVersion';
import type { Services } from '../services';
import { HttpError, notFound } from '../httpError';
import { uploadedFile } from './uploaded';
import { idParams, regionQuery, type ById, type ByRegion } from './schemas';

const versionParams = object({ id: string().uuid().required(), versionId: string().uuid().required() }).noUnknown();
interface OfVersion {
  Params: InferType<typeof versionParams>;
}
const ONE = { schema: { params: versionParams } };
const FOR_GOOD = 'private, max-age=31536000, immutable';

const tooMany = () =>
  new HttpError(409, 'TOO_MANY', `A frame takes ${MOST_VERSIONS} outside versions; remove one first.`);

export function versionRoutes(app: FastifyInstance, services: Services): void {
  const { stores, folder, crew } = services;
  const frameOf = (id: string): Frame => {
    const frame = stores.frames.get(id);
    if (!frame) throw notFound('frame');
    return frame;
  };
  const versionOf = ({ id, versionId }: OfVersion['Params']): { frame: Frame; version: OutsideVersion } => {
    const frame = frameOf(id);
    const version = stores.versions.get(versionId);
    if (!version || version.frameId !== id) throw notFound('outside version');
    return { frame, version };
  };

  app.get<ById>('/api/frames/:id/versions', { schema: { params: idParams } }, (request) =>
    stores.versions.ofFrame(frameOf(request.params.id).id),
  );

  app.post<ById>('/api/frames/:id/versions', { schema: { params: idParams } }, async (request, reply) => {
    const { id } = request.params;
    const frame = frameOf(id);
    if (stores.versions.ofFrame(id).length >= MOST_VERSIONS) {
      throw tooMany();
    }
    const part = await uploadedFile(request);
    return reply.status(201).send(await bringInVersion(services, frame, part.filename, part.file));
  });

  /** The version's samples on the frame's grid, 16 bits, in the frame's colour space. */
  app.get<OfVersion & ByRegion>(
    '/api/frames/:id/versions/:versionId/samples',
    { schema: { params: versionParams, querystring: regionQuery } },
    async (request, reply) => {
      const { frame, version } = versionOf(request.params);
      const path = folder.versionSamples(frame.sha256, version.sha256);
      const original = folder.original(frame.sha256);
      if (!isWhole(path)) {
        await crew.run({ kind: 'align', original, version: folder.original(version.sha256), samples: path });
        services.makeRoom();
      }
      const { width, height, channels } = frame;
      const file: SampleFile = { path, original, width, height, channels, bits: 16 };
      const { bytes } = await readSamples(file, request.query);
      if (bytes.length === 0) throw new HttpError(400, 'BAD_REQUEST', 'The region lies outside the frame.');
      return reply.header('cache-control', FOR_GOOD).type('application/octet-stream').send(bytes);
    },
  );

  app.delete<OfVersion>('/api/frames/:id/versions/:versionId', ONE, (request) => {
    stores.versions.remove(versionOf(request.params).version.id);
    return {};
  });

  /** Puts back what was removed. */
  app.post<OfVersion>('/api/frames/:id/versions/:versionId/restore', ONE, (request) => {
    const { frame, version } = versionOf(request.params);
    if (stores.versions.ofFrame(frame.id).length >= MOST_VERSIONS) throw tooMany();
    stores.versions.restore(version.id);
    return {};
  });
}
