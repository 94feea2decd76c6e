import type { FastifyInstance } from 'fastify';
import { createReadStream, existsSync } from 'node:fs';
import { array, mixed, object, type InferType } from 'yup';
import {
  checkPrescription,
  intersect,
  wholeOf,
  type AreaOperation,
  type MaskOperation,
  type Reading,
  isSensorFormat,
} from '@vitrocept/core';
import { cropJpeg, isDrawnFromKept, keptFacts, LIMITS, readSamples, viewJpeg } from '@vitrocept/files';
import { goneSignal } from './goneSignal';
import type { Services } from '../services';
import type { Frame } from '../db/frames';
import { sampleFileOf } from '../originals/sampleFileOf';
import { HttpError, notFound } from '../httpError';
import { cropQuery, idParams, regionQuery, whole, type ById, type ByRegion } from './schemas';
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

interface FoundSubjectOf {
  readonly operation: AreaOperation;
  readonly share: number;
}

/** Frames never change, so what is made from one alone may be kept by the browser for good. */
const FOR_GOOD = 'private, max-age=31536000, immutable';

const ONE = { schema: { params: idParams } };
const SMALL = { schema: { params: idParams, querystring: viewQuery } };
interface BySide {
  Querystring: InferType<typeof viewQuery>;
}

export function frameRoutes(app: FastifyInstance, services: Services): void {
  const { stores, folder, crew } = services;
  const frameOf = ({ id }: ById['Params']): Frame => {
    const frame = stores.frames.get(id);
    if (!frame) throw notFound('frame');
    return frame;
  };

  app.get<ById>('/api/frames/:id', ONE, (request) => {
    const frame = frameOf(request.params);
    return {
      ...frameSummary(services, frame),
      shootName: stores.shoots.get(frame.shootId)!.name,
      saved: stores.prescriptions.get(frame.id),
    };
  });

  app.get<ById & BySide>('/api/frames/:id/view.jpg', SMALL, async (request, reply) => {
    const frame = frameOf(request.params);
    const { side } = request.query;
    // Drawn outside of JavaScript's threads where it can be: nobody who looks waits for what the crew measures.
    const file = sampleFileOf(folder, frame);
    const jpeg =
      isSensorFormat(frame.format) && !isDrawnFromKept(file, side)
        ? Buffer.from(await crew.run<Uint8Array>({ kind: 'view', file, side }, goneSignal(reply)))
        : await viewJpeg(file, side);
    return reply.header('cache-control', FOR_GOOD).type('image/jpeg').send(jpeg);
  });

  /** A place of the frame px for px, for looking at. */
  app.get<ById & ByRegion>(
    '/api/frames/:id/crop.jpg',
    { schema: { params: idParams, querystring: cropQuery } },
    async (request, reply) => {
      const file = sampleFileOf(folder, frameOf(request.params));
      const place = intersect(request.query, wholeOf(file));
      if (place.width * place.height === 0) throw outside();
      const jpeg = await cropJpeg(file, place);
      return reply.header('cache-control', FOR_GOOD).type('image/jpeg').send(jpeg);
    },
  );

  /** Histogram of the whole frame: counts per channel over its code values. */
  app.get<ById>('/api/frames/:id/tones', ONE, async (request, reply) => {
    const file = sampleFileOf(folder, frameOf(request.params));
    const tones = await crew.run<number[][]>({ kind: 'tones', file });
    return reply.header('cache-control', FOR_GOOD).send(tones);
  });

  app.get<ById>('/api/frames/:id/guide', ONE, async (request, reply) => {
    const file = sampleFileOf(folder, frameOf(request.params));
    const bytes = await crew.run<Uint8Array>({ kind: 'guide', file });
    return reply.header('cache-control', FOR_GOOD).type('application/octet-stream').send(Buffer.from(bytes));
  });

  app.get<ById & BySide>('/api/frames/:id/clipping.png', SMALL, async (request, reply) => {
    const file = sampleFileOf(folder, frameOf(request.params));
    const { side } = request.query;
    const png = await crew.run<Uint8Array>({ kind: 'clipping', file, side });
    return reply.header('cache-control', FOR_GOOD).type('image/png').send(Buffer.from(png));
  });

  app.get<ById>('/api/frames/:id/profile', ONE, async (request, reply) => {
    const { icc } = await keptFacts(sampleFileOf(folder, frameOf(request.params)));
    return reply
      .header('cache-control', FOR_GOOD)
      .type('application/octet-stream')
      .send(icc ?? Buffer.alloc(0));
  });

  /** Samples of a region, clipped to the frame, at the file's own depth, little-endian, row by row. */
  app.get<ById & ByRegion>(
    '/api/frames/:id/samples',
    { schema: { params: idParams, querystring: regionQuery } },
    async (request, reply) => {
      const frame = frameOf(request.params);
      const { region, bytes } = await readSamples(sampleFileOf(folder, frame), request.query);
      if (bytes.length === 0) throw outside();
      return reply
        .header('cache-control', FOR_GOOD)
        .header('x-region', [region.x, region.y, region.width, region.height].join(' '))
        .type('application/octet-stream')
        .send(bytes);
    },
  );

  /** The subject as an operation of a mask, found in the frame's own samples, and how much of the frame it covers. */
  app.get<ById>('/api/frames/:id/subject', ONE, async (request, reply) => {
    const file = sampleFileOf(folder, frameOf(request.params));
    const found = await crew.run<FoundSubjectOf>({ kind: 'subject', file }, goneSignal(reply));
    return reply.header('cache-control', FOR_GOOD).send(found);
  });

  app.get<ById>('/api/frames/:id/original', ONE, (request, reply) => {
    const frame = frameOf(request.params);
    if (!existsSync(folder.original(frame.sha256))) throw lost(frame);
    return reply
      .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(frame.name)}`)
      .type(`image/${frame.format}`)
      .send(createReadStream(folder.original(frame.sha256)));
  });

  /** Somebody looks at the frame: it is read and looked after before the others. */
  app.post<ById>('/api/frames/:id/look-after', ONE, (request, reply) => {
    stores.readings.want(frameOf(request.params).id);
    services.readings.wake();
    return reply.code(204).send();
  });

  app.post<ById & { Body: InferType<typeof readingBody> }>(
    '/api/frames/:id/reading',
    { schema: { params: idParams, body: readingBody } },
    (request, reply) => {
      const frame = frameOf(request.params);
      const body = request.body;
      if (body.mask) checkPrescription({ ...stores.prescriptions.get(frame.id).prescription, mask: maskOf(body.mask) });
      const file = sampleFileOf(folder, frame);
      return crew.run<Reading>({ kind: 'reading', file, jpeg: frame.format === 'jpeg', ...body }, goneSignal(reply));
    },
  );

  app.put<ById & { Body: InferType<typeof prescriptionBody> }>(
    '/api/frames/:id/prescription',
    { schema: { params: idParams, body: prescriptionBody } },
    (request) => {
      const frame = frameOf(request.params);
      const { revision, prescription } = request.body;
      const saved = stores.prescriptions.save(frame.id, revision, checkPrescription(prescription));
      if (saved) return { revision: saved.revision };
      throw new HttpError(409, 'STALE', 'This frame was changed in another window since it was loaded here.', {
        saved: stores.prescriptions.get(frame.id),
      });
    },
  );
}

const outside = () => new HttpError(400, 'BAD_REQUEST', 'The region lies outside the frame.');

const lost = ({ name }: Frame) =>
  new HttpError(
    410,
    'ORIGINAL_LOST',
    `The original of ${name} is no longer in the data folder. Bring the same file in again.`,
  );

function maskOf(operations: MaskOperation[]) {
  return { id: 'mask-1', name: 'subject', opacityPercent: 100, operations };
}
