import type { FastifyInstance } from 'fastify';
import { createReadStream, existsSync, mkdirSync, renameSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { array, mixed, number, object, string, type InferType } from 'yup';
import {
  DEFAULT_JPEG_QUALITY,
  isProposed,
  LONG_EDGE_PX,
  MOST_PATTERN,
  patternFault,
  SAVE_FORMAT_DESCRIPTIONS,
  saveFormatFault,
  SAVE_FORMATS,
  USUAL_NAME_PATTERN,
  type Prescription,
  type SaveFormat,
} from '@vitrocept/core';
import type { Outcome, Round, RoundJob } from '../db/rounds';
import { folderCalled } from '../folderNames';
import { HttpError, notFound } from '../httpError';
import { cropsOf } from '../rounds/roundFrame';
import { secondsLeft } from '../rounds/timeLeft';
import type { Services } from '../services';
import { folderName, idParams, type ById } from './schemas';

export const MOST_ROUND_FRAMES = 5000;

const newRound = object({
  keptId: string().required(),
  frameIds: array().of(string().required()).min(1).max(MOST_ROUND_FRAMES).required(),
  format: mixed<SaveFormat>()
    .oneOf([...SAVE_FORMATS])
    .required(),
  quality: number().integer().min(1).max(100),
  namePattern: string().max(MOST_PATTERN),
  /** One folder under the outbox. */
  folder: folderName,
  longEdgePx: number().integer().min(LONG_EDGE_PX.least).max(LONG_EDGE_PX.most).nullable().optional(),
})
  .noUnknown()
  .required();

const decision = object({
  /** Null takes a decision back. */
  outcome: mixed<Outcome>().oneOf(['accepted', 'taken-back']).nullable().defined(),
})
  .noUnknown()
  .required();

const opening = object({ replace: mixed<true>().oneOf([true]).optional() })
  .noUnknown()
  .required();

const ONE = { schema: { params: idParams } };
const CROP = {
  schema: {
    params: object({ id: idParams.fields.id, which: string().oneOf(['before', 'after']).required() }).noUnknown(),
  },
};

export interface RoundSummary extends Omit<Round, 'kept'> {
  readonly name: string;
  readonly counts: Readonly<Record<'left' | 'done' | 'needsLook' | 'failed' | 'stopped', number>>;
  readonly secondsLeft: number | null;
}

export interface RoundDetail extends RoundSummary {
  readonly jobs: readonly RoundJob[];
}

/** A kept prescription used on many frames: begun, paused, stopped, looked through. */
export function roundRoutes(app: FastifyInstance, services: Services): void {
  const { stores, folder, rounds } = services;
  const roundOf = ({ id }: ById['Params']) => {
    const round = stores.rounds.get(id);
    if (!round) throw notFound('round');
    return round;
  };
  const jobOf = ({ id }: { id: string }) => {
    const job = stores.rounds.job(id);
    if (!job) throw notFound('frame of a round');
    return job;
  };

  app.get('/api/rounds', () => stores.rounds.all().map(summaryOf));

  app.get<ById>('/api/rounds/:id', ONE, (request) => detailOf(roundOf(request.params)));

  app.post<{ Body: InferType<typeof newRound> }>('/api/rounds', { schema: { body: newRound } }, (request, reply) => {
    const {
      keptId,
      frameIds,
      format,
      quality = DEFAULT_JPEG_QUALITY,
      folder: under = '',
      longEdgePx = null,
    } = request.body;
    const { namePattern = USUAL_NAME_PATTERN } = request.body;
    const fault = patternFault(namePattern);
    if (fault) throw new HttpError(400, 'NAME_PATTERN', fault);
    const found = stores.kept.get(keptId);
    if (!found) throw notFound('kept prescription');
    const unknown = frameIds.find((id) => !stores.frames.get(id));
    if (unknown) throw notFound('frame');
    const unique = [...new Set(frameIds)];
    const unfit = unique.map((id) => saveFormatFault(format, stores.frames.get(id)!.format)).find(Boolean);
    if (unfit) throw new HttpError(400, 'DNG_NOT_RAW', `Not all of these came from a DNG. ${unfit}`);
    const wish = {
      kept: found.kept,
      frameIds: unique,
      format,
      quality,
      namePattern,
      folder: folderCalled(under),
      longEdgePx,
    };
    const round = stores.rounds.add(wish);
    rounds.wake();
    return reply.status(201).send(detailOf(round));
  });

  app.post<ById>('/api/rounds/:id/pause', ONE, (request) => {
    const round = roundOf(request.params);
    if (round.state === 'going') {
      stores.rounds.setState(round.id, 'paused');
      rounds.interrupt(round.id);
    }
    return detailOf(roundOf(request.params));
  });

  /** What was paused goes on; of what ended or was stopped, what failed or was left is tried again. */
  app.post<ById>('/api/rounds/:id/go-on', ONE, (request) => {
    const round = roundOf(request.params);
    if (round.state === 'paused') stores.rounds.setState(round.id, 'going');
    else if (round.state !== 'going') stores.rounds.tryAgain(round.id);
    rounds.wake();
    return detailOf(roundOf(request.params));
  });

  app.post<ById>('/api/rounds/:id/stop', ONE, (request) => {
    const round = roundOf(request.params);
    if (round.state === 'going' || round.state === 'paused') {
      stores.rounds.setState(round.id, 'stopped');
      rounds.interrupt(round.id);
    }
    return detailOf(roundOf(request.params));
  });

  /** Before all others. */
  app.post<ById>('/api/rounds/:id/first', ONE, (request) => {
    const { id } = roundOf(request.params);
    stores.rounds.takeFirst(id);
    return detailOf(roundOf(request.params));
  });

  app.post<ById & { Body: InferType<typeof decision> }>(
    '/api/round-jobs/:id/outcome',
    { schema: { params: idParams, body: decision } },
    (request) => {
      const job = jobOf(request.params);
      if (job.state !== 'done' || !job.fileName) {
        throw new HttpError(409, 'NOT_DONE', 'Only a frame that is done can be accepted or taken back.');
      }
      const { outcome } = request.body;
      moveCopy(job, outcome);
      stores.rounds.decide(job.id, outcome);
      return jobOf(request.params);
    },
  );

  /** The frame’s own prescription becomes the one that the round used. */
  app.post<ById & { Body: InferType<typeof opening> }>(
    '/api/round-jobs/:id/open',
    { schema: { params: idParams, body: opening } },
    (request) => {
      const job = jobOf(request.params);
      const prescription = stores.rounds.prescriptionOf(job.id);
      if (!prescription) throw new HttpError(409, 'NOT_DONE', 'Nothing was prescribed for this frame yet.');
      const saved = stores.prescriptions.get(job.frameId);
      if (hasOwnWork(saved.prescription) && !request.body.replace) {
        throw new HttpError(409, 'HAS_WORK', 'This frame has work of its own, which would be replaced.');
      }
      const { probes, faces } = saved.prescription;
      const next = { ...prescription, probes, ...(faces ? { faces } : {}) };
      return stores.prescriptions.save(job.frameId, saved.revision, next);
    },
  );

  app.get<{ Params: { id: string; which: 'before' | 'after' } }>(
    '/api/round-jobs/:id/:which.jpg',
    CROP,
    (request, reply) => {
      const job = jobOf(request.params);
      const path = cropsOf(services, job.id)[request.params.which];
      if (!existsSync(path)) throw new HttpError(410, 'GONE', 'This crop was thrown away to make room.');
      return reply.type('image/jpeg').send(createReadStream(path));
    },
  );

  app.get<ById>('/api/round-jobs/:id/file', ONE, (request, reply) => {
    const job = jobOf(request.params);
    const path = job.fileName && placeOf(job, job.outcome);
    if (job.state !== 'done' || !path) throw new HttpError(409, 'NOT_DONE', 'This frame has no saved copy yet.');
    if (!existsSync(path)) throw new HttpError(410, 'GONE', 'The saved copy is no longer in the outbox.');
    const { format } = stores.rounds.get(job.roundId)!;
    return reply
      .header(
        'content-disposition',
        `attachment; filename*=UTF-8''${encodeURIComponent(job.fileName.split('/').at(-1)!)}`,
      )
      .type(SAVE_FORMAT_DESCRIPTIONS[format].mime)
      .send(createReadStream(path));
  });

  function summaryOf({ kept, ...round }: Round): RoundSummary {
    const { left, done, needsLook, failed, stopped } = stores.rounds.tallyOf(round.id);
    return {
      ...round,
      name: kept.name,
      counts: { left, done, needsLook, failed, stopped },
      secondsLeft: secondsLeft(left, stores.rounds.pacesOf(round.id)),
    };
  }

  function detailOf(round: Round): RoundDetail {
    return { ...summaryOf(round), jobs: stores.rounds.jobsOf(round.id) };
  }

  /** A copy that is taken back leaves the outbox and can come back to it. */
  function moveCopy(job: RoundJob, outcome: Outcome | null): void {
    const [from, to] = [placeOf(job, job.outcome), placeOf(job, outcome)];
    if (from === to) return;
    if (!existsSync(from)) throw new HttpError(410, 'GONE', 'The saved copy is no longer where it was put.');
    if (existsSync(to)) throw new HttpError(409, 'FILE_EXISTS', 'Another file has its name in the outbox by now.');
    mkdirSync(dirname(to), { recursive: true });
    renameSync(from, to);
  }

  function placeOf({ id, fileName }: RoundJob, outcome: Outcome | null): string {
    return outcome === 'taken-back' ? join(folder.takenBack, id) : join(folder.outbox, fileName!);
  }
}

/** Somebody did more to the frame than look at what was proposed. */
function hasOwnWork(prescription: Prescription): boolean {
  const { recovery, cleaning, geometry, trials, mask } = prescription;
  return (
    recovery !== null ||
    cleaning !== null ||
    geometry !== null ||
    (trials.length > 0 && !isProposed(prescription, 'trials')) ||
    (mask.operations.length > 0 && !isProposed(prescription, 'mask'))
  );
}
