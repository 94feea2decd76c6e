import type { FastifyInstance } from 'fastify';
import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { object, string, type InferType } from 'yup';
import { checkPrescription, practiceFaultOf, practiceSpecSchema, type PracticeSpec } from '@vitrocept/core';
import {
  CHALLENGES,
  frameOfSpec,
  PRACTICE_SCENES,
  PRACTICE_SIZE,
  type Challenge,
  type PracticeFrame,
  type PracticeGrade,
} from '@vitrocept/files';
import type { PracticeCase } from '../db/practice';
import { HttpError, notFound } from '../httpError';
import { bringInFile, keep } from '../originals/bringIn';
import { MOST_VERSIONS } from '../originals/bringInVersion';
import { sampleFileOf } from '../originals/sampleFileOf';
import type { Services } from '../services';
import { goneSignal } from './goneSignal';
import { idParams, type ById } from './schemas';

/** The shoot that the practice camera's photographs go to. */
const SHOOT_NAME = 'Practice camera';
const NOTE = 'practice shoot';
const TRUTH_NAME = 'the truth';
const ONE = { schema: { params: idParams } };
const specText = object({ spec: string().max(2000).required() }).required();
const photographBody = object({
  spec: practiceSpecSchema.optional().default(undefined),
  challenge: string().optional(),
})
  .noUnknown()
  .required();
const sceneParams = object({ scene: string().matches(/^\d$/).required() }).required();

export interface PracticeSummary {
  readonly scenes: readonly string[];
  readonly size: { readonly width: number; readonly height: number };
  readonly challenges: readonly ChallengeSummary[];
}

export interface ChallengeSummary extends Pick<Challenge, 'name' | 'told' | 'best' | 'isBestLeftAlone'> {
  /** dB that oneself came nearer to the truth; null: not graded yet. */
  readonly own: number | null;
}

/** The practice camera: known scenes photographed with a chosen fault, and results graded against the truth. */
export function practiceRoutes(app: FastifyInstance, services: Services, truths: string): void {
  const { stores, folder, crew } = services;
  const frameOf = (id: string) => {
    const frame = stores.frames.get(id);
    if (!frame) throw notFound('frame');
    return frame;
  };

  /** A frame of one's own must be sharp: what it lacks nobody could bring back. */
  const sceneOf = ({ scene }: PracticeSpec): string | undefined => {
    if (typeof scene === 'number') {
      if (scene < PRACTICE_SCENES.length) return undefined;
      throw new HttpError(400, 'NO_SCENE', 'There is no such scene.');
    }
    const frame = frameOf(scene);
    const { reading } = stores.readings.get(scene);
    if (!reading) throw new HttpError(409, 'UNREAD', `${frame.name} has not been read yet. Try again in a minute.`);
    const pile = frame.pileByHand ?? reading.pile;
    if (pile !== 'good-as-is') {
      throw new HttpError(
        409,
        'NOT_SHARP',
        `${frame.name} is not in Good as is: what it lacks cannot be told from what the practice camera takes away.`,
      );
    }
    if (frame.width < PRACTICE_SIZE.width / 2 || frame.height < PRACTICE_SIZE.height / 2) {
      throw new HttpError(409, 'TOO_SMALL', `${frame.name} is too small to be photographed again.`);
    }
    return folder.original(frame.sha256);
  };

  const sceneNumber = (text: string): number => {
    const number = Number(text);
    if (number >= PRACTICE_SCENES.length) throw notFound('scene');
    return number;
  };

  const shotOf = (spec: PracticeSpec, name: string): PracticeFrame => {
    const fault = practiceFaultOf(spec);
    if (fault) throw new HttpError(400, 'PRACTICE', fault);
    return frameOfSpec(spec, name, sceneOf(spec));
  };

  const challengeOf = (name: string): Challenge => {
    const found = CHALLENGES.find((challenge) => challenge.name === name);
    if (!found) throw notFound('challenge');
    return found;
  };

  app.get('/api/practice', (): PracticeSummary => {
    const bests = stores.practice.bests();
    return {
      scenes: PRACTICE_SCENES.map((file) => file.replace(/\..*$/, '')),
      size: PRACTICE_SIZE,
      challenges: CHALLENGES.map(({ name, told, best, isBestLeftAlone }) => ({
        name,
        told,
        best,
        isBestLeftAlone,
        own: bests.get(name) ?? null,
      })),
    };
  });

  app.get<{ Params: InferType<typeof sceneParams> }>(
    '/api/practice/scenes/:scene/view.jpg',
    { schema: { params: sceneParams } },
    async (request, reply) => {
      const shot = frameOfSpec({ ...SHARP, scene: sceneNumber(request.params.scene) }, 'view');
      const jpeg = await crew.run<Uint8Array>(
        { kind: 'practice-view', truths, frame: shot, side: 240 },
        goneSignal(reply),
      );
      return reply.header('cache-control', 'max-age=86400').type('image/jpeg').send(Buffer.from(jpeg));
    },
  );

  /** What the photograph would look like, small. */
  app.get<{ Querystring: InferType<typeof specText> }>(
    '/api/practice/preview.jpg',
    { schema: { querystring: specText } },
    async (request, reply) => {
      const spec = await parsedSpec(request.query.spec);
      const shot = { ...shotOf(spec, 'preview'), isMosaic: false };
      const jpeg = await crew.run<Uint8Array>(
        { kind: 'practice-view', truths, frame: shot, side: null },
        goneSignal(reply),
      );
      return reply.header('cache-control', 'max-age=600').type('image/jpeg').send(Buffer.from(jpeg));
    },
  );

  app.post<{ Body: InferType<typeof photographBody> }>(
    '/api/practice/photograph',
    { schema: { body: photographBody } },
    async (request, reply) => {
      const { spec, challenge } = request.body;
      if ((spec === undefined) === (challenge === undefined)) {
        throw new HttpError(400, 'PRACTICE', 'Either a photograph of one’s own is told, or a challenge.');
      }
      const shot = spec
        ? shotOf(spec, `practice-${spec.seed}.${spec.isMosaic ? 'dng' : 'jpg'}`)
        : challengeOf(challenge!).frame;
      mkdirSync(folder.incoming, { recursive: true });
      const path = join(folder.incoming, `${randomUUID()}-${shot.name}`);
      try {
        await crew.run({ kind: 'practice', truths, frame: shot, path });
        const { frame } = await bringInFile(services, practiceShoot(), path);
        stores.frames.change([{ id: frame.id, name: shot.name }]);
        stores.practice.add(frame.id, spec ?? null, challenge ?? null);
        return reply.status(201).send({ frameId: frame.id });
      } finally {
        await rm(path, { force: true });
      }
    },
  );

  app.get<ById>('/api/frames/:id/practice', ONE, (request, reply) => {
    const { id } = frameOf(request.params.id);
    return reply.type('application/json').send(JSON.stringify(stores.practice.get(id)));
  });

  /** What the saved prescription makes of it, against the truth. */
  app.post<ById>('/api/frames/:id/grade', ONE, async (request, reply) => {
    const frame = frameOf(request.params.id);
    const known = stores.practice.get(frame.id);
    if (!known)
      throw new HttpError(
        409,
        'NOT_PRACTICE',
        'Only what the practice camera took can be graded: nobody knows the truth of others.',
      );
    const shot = shotOfCase(known, frame.name);
    const { prescription } = stores.prescriptions.get(frame.id);
    const found = await crew.run<PracticeGrade>(
      {
        kind: 'grade',
        file: sampleFileOf(folder, frame),
        prescription: checkPrescription(prescription),
        truths,
        frame: shot,
      },
      goneSignal(reply),
    );
    stores.practice.graded(frame.id, found);
    return found;
  });

  /** What the camera would have taken without fault, as a version beside the trials: it lies on the frame exactly. */
  app.post<ById>('/api/frames/:id/truth', ONE, async (request, reply) => {
    const frame = frameOf(request.params.id);
    const known = stores.practice.get(frame.id);
    if (!known) throw new HttpError(409, 'NOT_PRACTICE', 'Nobody knows the truth of this frame.');
    const there = stores.versions.ofFrame(frame.id).find(({ name }) => name === TRUTH_NAME);
    if (there) return there;
    if (stores.versions.ofFrame(frame.id).length >= MOST_VERSIONS) {
      throw new HttpError(409, 'TOO_MANY', `A frame has at most ${MOST_VERSIONS} versions beside it: take one away.`);
    }
    const file = sampleFileOf(folder, frame);
    const samples = join(folder.incoming, `${randomUUID()}.samples`);
    mkdirSync(folder.incoming, { recursive: true });
    const shot = shotOfCase(known, frame.name);
    const png = Buffer.from(
      await crew.run<Uint8Array>({ kind: 'truth', truths, frame: shot, file, samples }, goneSignal(reply)),
    );
    const sha256 = createHash('sha256').update(png).digest('hex');
    const temporary = `${samples}.png`;
    await writeFile(temporary, png);
    await keep(temporary, folder.original(sha256));
    await rename(samples, folder.versionSamples(frame.sha256, sha256));
    const { width, height } = frame;
    const placement = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };
    const alignment = { placement, grid: [], medianPx: 0, worstPx: 0, isAligned: true };
    return stores.versions.add({ frameId: frame.id, name: TRUTH_NAME, sha256, width, height, alignment });
  });

  function shotOfCase({ spec, challenge }: PracticeCase, name: string): PracticeFrame {
    return spec ? frameOfSpec(spec, name, sceneOf(spec)) : challengeOf(challenge!).frame;
  }

  function practiceShoot(): string {
    const known = stores.shoots.get(stores.notes.get(NOTE) ?? '');
    if (known && !known.removedAt) return known.id;
    const made = stores.shoots.add(SHOOT_NAME);
    stores.notes.set(NOTE, made.id);
    return made.id;
  }
}

/** A scene as it is. */
const SHARP: PracticeSpec = {
  scene: 0,
  fault: 'none',
  focalLengthMm: 300,
  aperture: 5.6,
  blades: 0,
  distanceM: 10,
  focusErrorMm: 0,
  speedMetresPerSecond: 0,
  shutterS: 1 / 500,
  turnDeg: 0,
  softnessPx: 1,
  iso: 50,
  quality: 90,
  isMosaic: false,
  seed: 1,
};

async function parsedSpec(text: string): Promise<PracticeSpec> {
  try {
    return await practiceSpecSchema.validate(JSON.parse(text), { strict: true });
  } catch (error) {
    throw new HttpError(400, 'PRACTICE', `The camera cannot take that: ${(error as Error).message}.`);
  }
}
