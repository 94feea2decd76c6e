import type { FastifyInstance } from 'fastify';
import { createReadStream, existsSync } from 'node:fs';
import { join } from 'node:path';
import { array, mixed, number, object, string, type InferType } from 'yup';
import {
  COPY_COLOURS,
  COPY_METADATA,
  copySizeFault,
  DEFAULT_JPEG_QUALITY,
  SAVE_FORMAT_DESCRIPTIONS,
  SAVE_FORMATS,
  atStage,
  isFinished,
  isSensorFormat,
  saveFormatFault,
  sizeAfter,
  STAGES,
  usualWishes,
  wishesFault,
  type CopyColour,
  type CopyMetadata,
  type Prescription,
  type SaveFormat,
  type Stage,
} from '@vitrocept/core';

import type { Frame } from '../db/frames';
import type { Services } from '../services';
import { HttpError, notFound } from '../httpError';
import { idParams, whole, type ById } from './schemas';

const newRender = object({
  frameId: string().required(),
  /** Of the prescription that is meant. */
  revision: whole(0, 1e9),
  format: mixed<SaveFormat>()
    .oneOf([...SAVE_FORMATS])
    .required(),
  quality: number().integer().min(1).max(100),
  stages: array()
    .of(
      mixed<Stage>()
        .oneOf([...STAGES])
        .required(),
    )
    .min(1)
    .max(STAGES.length)
    .optional(),
  wishes: object({
    colour: mixed<CopyColour>()
      .oneOf([...COPY_COLOURS])
      .required(),
    metadata: mixed<CopyMetadata>()
      .oneOf([...COPY_METADATA])
      .required(),
    ppi: number().nullable().defined(),
    namePattern: string().required(),
  })
    .noUnknown()
    .optional()
    .default(undefined),
})
  .noUnknown()
  .required();

const ONE = { schema: { params: idParams } };

/** A crop that lies outside the frame has no size: the render says so. */
function tooLargeOf(prescription: Prescription, frame: Frame): string | null {
  try {
    return copySizeFault(sizeAfter(prescription, frame), frame.channels);
  } catch {
    return null;
  }
}

export function renderRoutes(app: FastifyInstance, services: Services): void {
  const { stores, folder, renders } = services;
  const jobOf = ({ id }: ById['Params']) => {
    const job = stores.renders.get(id);
    if (!job) throw notFound('render');
    return job;
  };

  app.get('/api/renders', () => stores.renders.all());

  app.post<{ Body: InferType<typeof newRender> }>('/api/renders', { schema: { body: newRender } }, (request, reply) => {
    const { frameId, revision, format, quality = DEFAULT_JPEG_QUALITY, stages: asked } = request.body;
    if (asked && asked.length > 1 && format !== 'tiff16') {
      throw new HttpError(400, 'PAGES_FORMAT', 'Only a TIFF holds several pages: choose TIFF, or one stage.');
    }
    const frame = stores.frames.get(frameId);
    if (!frame) throw notFound('frame');
    const { prescription, revision: saved } = stores.prescriptions.get(frameId);
    if (saved !== revision) {
      throw new HttpError(
        409,
        'STALE',
        'This frame was changed since: what would be rendered is not what you saw. Look again.',
      );
    }
    const unfit = saveFormatFault(format, frame.format);
    if (unfit) throw new HttpError(400, 'DNG_NOT_RAW', unfit);
    const wishes = request.body.wishes ?? usualWishes(format, isSensorFormat(frame.format));
    const fault = wishesFault(wishes, format);
    if (fault) throw new HttpError(400, 'WISHES', fault);
    const tooLarge = tooLargeOf(prescription, frame);
    if (tooLarge) throw new HttpError(400, 'COPY_TOO_LARGE', tooLarge);
    const stages = asked ?? [isFinished(prescription) ? 'finished' : 'recovered'];
    const job = stores.renders.add(frameId, prescription, format, quality, stages, wishes);
    renders.wake();
    return reply.status(201).send(job);
  });

  app.post<ById>('/api/renders/:id/stop', ONE, (request) => {
    const job = jobOf(request.params);
    renders.stop(job.id);
    return stores.renders.get(job.id);
  });

  app.post<ById>('/api/renders/:id/retry', ONE, (request) => {
    const job = jobOf(request.params);
    if (job.state !== 'failed' && job.state !== 'stopped') {
      throw new HttpError(409, 'NOT_ENDED', 'Only a render that failed or was stopped can be tried again.');
    }
    stores.renders.requeue(job.id);
    renders.wake();
    return stores.renders.get(job.id);
  });

  /** What was done, as the command line takes it: with the original it makes the copy again, to the bit. */
  app.get<ById>('/api/renders/:id/prescription.json', ONE, (request, reply) => {
    const { id, frameName, fileName, stages } = jobOf(request.params);
    const whole = stores.renders.prescriptionOf(id);
    const name = `${fileName ?? frameName}.prescription.json`;
    return reply
      .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(name)}`)
      .type('application/json')
      .send(JSON.stringify(atStage(whole, stages.at(-1)!), null, 2));
  });

  app.get<ById>('/api/renders/:id/file', ONE, (request, reply) => {
    const job = jobOf(request.params);
    if (job.state !== 'done' || !job.fileName)
      throw new HttpError(409, 'NOT_DONE', 'This render has no finished file yet.');
    const path = join(folder.outbox, job.fileName);
    if (!existsSync(path))
      throw new HttpError(410, 'GONE', 'The saved copy is no longer in the outbox. Render it again.');
    return reply
      .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(job.fileName)}`)
      .type(SAVE_FORMAT_DESCRIPTIONS[job.format].mime)
      .send(createReadStream(path));
  });
}
