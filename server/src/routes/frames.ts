import type { FastifyInstance, FastifyReply } from 'fastify';
import { createReadStream, existsSync } from 'node:fs';
import { array, mixed, object } from 'yup';
import { checkPrescription, type Box, type MaskOperation, type Reading } from '@vitrocept/core';
import { keptFacts, LIMITS, readSamples, viewJpeg } from '@vitrocept/files';
import type { Services } from '../services';
import type { Frame } from '../db/frames';
import { sampleFileOf } from '../originals/sampleFileOf';
import { HttpError, notFound } from '../httpError';
import { idParams, regionQuery, STRICT, whole } from './schemas';
import { frameSummary } from './views';

const viewQuery = object({ side: whole(64, 6144) }).noUnknown();
const readingBody = object({
  box: object({
    x: whole(0, LIMITS.sidePx),
    y: whole(0, LIMITS.sidePx),
    width: whole(1, LIMITS.sidePx),
    height: whole(1, LIMITS.sidePx),
  })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
  mask: array().of(mixed<MaskOperation>().required()).nullable().defined().default(undefined),
})
  .noUnknown()
  .required();
const prescriptionBody = object({ revision: whole(0, 1e9), prescription: mixed<object>().required() })
  .noUnknown()
  .required();

/** Frames never change, so what is made from one alone may be kept by the browser for good. */
const FOR_GOOD = 'private, max-age=31536000, immutable';

export function frameRoutes(app: FastifyInstance, services: Services): void {
  const { stores, folder, crew } = services;
  const frameOf = (params: unknown): Frame => {
    const { id } = idParams.validateSync(params, STRICT);
    const frame = stores.frames.get(id);
    if (!frame) throw notFound('frame');
    return frame;
  };

  app.get('/api/frames/:id', (request) => {
    const frame = frameOf(request.params);
    return {
      ...frameSummary(services, frame),
      shootName: stores.shoots.get(frame.shootId)!.name,
      saved: stores.prescriptions.get(frame.id),
    };
  });

  app.get('/api/frames/:id/view.jpg', async (request, reply) => {
    const frame = frameOf(request.params);
    const { side } = viewQuery.validateSync(request.query);
    // Decoded outside of JavaScript's threads: nobody who looks waits for what the crew measures.
    const jpeg = await viewJpeg(folder.original(frame.sha256), side);
    return reply.header('cache-control', FOR_GOOD).type('image/jpeg').send(jpeg);
  });

  /** Histogram of the whole frame: counts per channel over its code values. */
  app.get('/api/frames/:id/tones', async (request, reply) => {
    const file = sampleFileOf(folder, frameOf(request.params));
    const tones = await crew.run<number[][]>({ kind: 'tones', file });
    return reply.header('cache-control', FOR_GOOD).send(tones);
  });

  app.get('/api/frames/:id/clipping.png', async (request, reply) => {
    const file = sampleFileOf(folder, frameOf(request.params));
    const { side } = viewQuery.validateSync(request.query);
    const png = await crew.run<Uint8Array>({ kind: 'clipping', file, side });
    return reply.header('cache-control', FOR_GOOD).type('image/png').send(Buffer.from(png));
  });

  app.get('/api/frames/:id/profile', async (request, reply) => {
    const { icc } = await keptFacts(sampleFileOf(folder, frameOf(request.params)));
    return reply
      .header('cache-control', FOR_GOOD)
      .type('application/octet-stream')
      .send(icc ?? Buffer.alloc(0));
  });

  /** Samples of a region, clipped to the frame, at the file's own depth, little-endian, row by row. */
  app.get('/api/frames/:id/samples', async (request, reply) => {
    const frame = frameOf(request.params);
    const { region, bytes } = await readSamples(sampleFileOf(folder, frame), regionQuery.validateSync(request.query));
    if (bytes.length === 0) throw new HttpError(400, 'BAD_REQUEST', 'The region lies outside the frame.');
    return reply
      .header('cache-control', FOR_GOOD)
      .header('x-region', [region.x, region.y, region.width, region.height].join(' '))
      .type('application/octet-stream')
      .send(bytes);
  });

  app.get('/api/frames/:id/original', (request, reply) => {
    const frame = frameOf(request.params);
    if (!existsSync(folder.original(frame.sha256))) throw lost(frame);
    return reply
      .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(frame.name)}`)
      .type(`image/${frame.format}`)
      .send(createReadStream(folder.original(frame.sha256)));
  });

  app.post('/api/frames/:id/reading', (request, reply) => {
    const frame = frameOf(request.params);
    const body = readingBody.validateSync(request.body, STRICT) as { box: Box | null; mask: MaskOperation[] | null };
    if (body.mask) checkPrescription({ ...stores.prescriptions.get(frame.id).prescription, mask: maskOf(body.mask) });
    const file = sampleFileOf(folder, frame);
    return crew.run<Reading>({ kind: 'reading', file, jpeg: frame.format === 'jpeg', ...body }, goneSignal(reply));
  });

  app.put('/api/frames/:id/prescription', (request) => {
    const frame = frameOf(request.params);
    const { revision, prescription } = prescriptionBody.validateSync(request.body, STRICT);
    const saved = stores.prescriptions.save(frame.id, revision, checkPrescription(prescription));
    if (saved) return { revision: saved.revision };
    throw new HttpError(409, 'STALE', 'This frame was changed in another window since it was loaded here.', {
      saved: stores.prescriptions.get(frame.id),
    });
  });
}

/** Aborts when whoever asked is gone before the answer. */
function goneSignal({ raw }: FastifyReply): AbortSignal {
  const gone = new AbortController();
  raw.once('close', () => raw.writableFinished || gone.abort());
  return gone.signal;
}

const lost = ({ name }: Frame) =>
  new HttpError(
    410,
    'ORIGINAL_LOST',
    `The original of ${name} is no longer in the data folder. Bring the same file in again.`,
  );

function maskOf(operations: MaskOperation[]) {
  return { id: 'mask-1', name: 'subject', opacityPercent: 100, operations };
}
