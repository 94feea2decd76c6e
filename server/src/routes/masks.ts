import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { FastifyInstance } from 'fastify';
import { mixed, number, object, string, type InferType } from 'yup';
import { diskError } from '@vitrocept/files';
import { cleanName, store } from '../originals/bringIn';
import type { Services } from '../services';
import { notFound } from '../httpError';
import { uploadedFile } from './uploaded';
import { idParams, type ById } from './schemas';

const maskParams = object({
  id: string().uuid().required(),
  format: mixed<'png' | 'tiff'>().oneOf(['png', 'tiff']).required(),
}).noUnknown();
const maskQuery = object({ bits: number<8 | 16>().oneOf([8, 16]).default(16).required() }).noUnknown();

/** Masks as files. */
export function maskRoutes(app: FastifyInstance, { stores, folder, crew }: Services): void {
  const frameOf = (id: string) => {
    const frame = stores.frames.get(id);
    if (!frame) throw notFound('frame');
    return frame;
  };

  /** The saved mask at work at the frame's size, to be used elsewhere or given to the command line. */
  app.get<{
    Params: InferType<typeof maskParams>;
    Querystring: InferType<typeof maskQuery>;
  }>(
    '/api/frames/:id/mask.:format',
    { schema: { params: maskParams, querystring: maskQuery } },
    async (request, reply) => {
      const { id, format } = request.params;
      const { bits } = request.query;
      const frame = frameOf(id);
      const { operations } = stores.prescriptions.get(id).prescription.mask;
      const { width, height } = frame;
      const file = await crew.run<Uint8Array>({ kind: 'mask', width, height, operations, bits, format });
      const name = `${frame.name.replace(/\.[^.]+$/, '')}-mask.${format}`;
      return reply
        .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(name)}`)
        .header('cache-control', 'no-store')
        .type(`image/${format}`)
        .send(Buffer.from(file));
    },
  );

  /** A mask made elsewhere, answered as an area; nothing is kept of the file. */
  app.post<ById>('/api/frames/:id/mask-file', { schema: { params: idParams } }, async (request) => {
    const { width, height } = frameOf(request.params.id);
    const part = await uploadedFile(request);
    const path = join(folder.incoming, randomUUID());
    try {
      await store(part.file, path);
      return await crew.run({ kind: 'mask-file', path, name: cleanName(part.filename), width, height });
    } catch (error) {
      throw diskError(error as NodeJS.ErrnoException);
    } finally {
      await rm(path, { force: true });
    }
  });
}
