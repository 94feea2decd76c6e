import { existsSync, mkdirSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import {
  adaptKept,
  boundsOfMask,
  copySizeFault,
  grow,
  intersect,
  isCleanedByItself,
  lookReasons,
  measuredOn,
  nameFrom,
  isSensorFormat,
  usualWishes,
  needsFaces,
  needsOnlyFirstLook,
  needsReading,
  needsSubject,
  SAVE_FORMAT_DESCRIPTIONS,
  saveFormatFault,
  sizeAfter,
  wholeOf,
  withSafestAmount,
  type FoundFace,
  type LookedAfterFrame,
  type MeasuredAnew,
  type Prescription,
  type Region,
} from '@vitrocept/core';
import { fileState, putInPlace, type Judgement } from '@vitrocept/files';
import type { Frame } from '../db/frames';
import { folderUnder } from '../folderNames';
import type { Round, RoundJob } from '../db/rounds';
import { sampleFileOf } from '../originals/sampleFileOf';
import { freeName, withinBytes } from '../renders/freePlace';
import { renderFrame } from '../renders/renderFrame';
import type { Services } from '../services';

/** Side of the crops that a round is looked through by, px of the frame. */
export const CROP_PX = 320;
const LOOK_AGAIN_MS = 200;
const DAY = /^\d{4}-\d{2}-\d{2}/;

/**
 * One frame of a round, from what has to be measured to the file in the outbox. Begun again, it writes the same file.
 */
export async function roundFrame(services: Services, round: Round, job: RoundJob, stop: SharedArrayBuffer) {
  const { stores, crew, folder, renders } = services;
  const began = performance.now();
  const frame = stores.frames.get(job.frameId)!;
  if (frame.removedAt) throw new Error('The frame lies in the trash.');
  const unfit = saveFormatFault(round.format, frame.format);
  if (unfit) throw new Error(unfit);
  const file = sampleFileOf(folder, frame);
  const { kept } = round;
  const anew = await measuredAnew(services, round, frame, new Int32Array(stop));
  let adapted = adaptKept(kept, frame, anew);
  if (isCleanedByItself(kept, adapted)) {
    const holds = await crew.run<boolean>({ kind: 'cleaning-holds', file, prescription: adapted });
    if (!holds) adapted = { ...adapted, cleaning: null };
  }
  let judgement: Judgement | null = null;
  if (adapted.recovery) {
    stores.rounds.reach(job.id, 'judging');
    const findsAmount = kept.ways.amount === 'safest';
    judgement = await crew.run<Judgement>({ kind: 'judge', file, prescription: adapted, findsAmount });
    if (judgement.amount !== null) adapted = withSafestAmount(adapted, judgement.amount);
  }
  if (round.longEdgePx) adapted = { ...adapted, size: { longEdgePx: round.longEdgePx } };
  const tooLarge = copySizeFault(sizeAfter(adapted, frame), frame.channels);
  if (tooLarge) throw new Error(tooLarge);
  stores.rounds.adapted(job.id, adapted, judgement);
  stores.rounds.reach(job.id, 'rendering');
  const results = folderUnder(folder.outbox, round.folder);
  mkdirSync(results, { recursive: true });
  let fileName = job.fileName ?? reserveName(services, round, job, frame);
  const whole = join(results, `.${job.id}.part`);
  const crop = cropPlace(frame, adapted, judgement);
  const bytes = await renderFrame(
    services,
    {
      id: job.id,
      frame,
      prescription: adapted,
      stages: ['finished'],
      format: round.format,
      quality: round.quality,
      wishes: usualWishes(round.format, isSensorFormat(frame.format)),
      place: whole,
      // Of an earlier attempt at this job.
      mayReplace: true,
    },
    {
      stop,
      progress: () => stores.rounds.renew(job.id),
      // Somebody waits for a render asked for by hand.
      giveWay: () => renders.idle(),
      async rendered(result) {
        const { before, after } = cropsOf(services, job.id);
        await crew.run({ kind: 'before-after', file, result, place: crop, before, after });
      },
    },
  );
  try {
    while (!(await publish(services, job, whole, join(folder.outbox, fileName)))) {
      const taken = fileName;
      fileName = reserveName(services, round, job, frame);
      services.log(`round ${round.id}: ${taken} is somebody else’s by now, so ${fileName} is written`);
    }
  } finally {
    await rm(whole, { force: true });
  }
  const worst = judgement?.worst?.verdict ?? null;
  const reasons = lookReasons(kept, adapted, anew, judgement?.amount ?? null, adapted.recovery && worst);
  stores.rounds.done(job.id, reasons, bytes, (performance.now() - began) / 1000);
  stores.notes.forget(writtenBy(job));
}

/** Where the two crops of a job lie; they can be deleted. */
export const cropsOf = ({ folder }: Pick<Services, 'folder'>, jobId: string) => ({
  before: join(folder.derived, `${jobId}-before.jpg`),
  after: join(folder.derived, `${jobId}-after.jpg`),
});

/**
 * What was measured when the frame was looked after counts. One that was not yet is taken before all others, by those
 * who look after frames: nothing is measured twice.
 */
async function measuredAnew(
  services: Services,
  { kept }: Round,
  frame: Frame,
  stop: Int32Array,
): Promise<MeasuredAnew> {
  const { stores, crew, folder, readings } = services;
  if (!needsReading(kept) && !needsSubject(kept)) return { reading: null, over: 'whole', subject: null };
  const isSortedEnough = needsOnlyFirstLook(kept);
  const isWaiting = () => {
    const { state } = stores.readings.get(frame.id);
    return state === 'waiting' || (state === 'sorted' && !isSortedEnough);
  };
  if (!isSortedEnough) stores.readings.want(frame.id);
  readings.wake();
  while (isWaiting()) {
    if (services.closing || Atomics.load(stop, 0) === 1) throw new Error('Stopped.');
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
  }
  const known = stores.readings.get(frame.id);
  if (known.state === 'sorted') return { reading: known.reading, over: 'whole', subject: null };
  let looked: LookedAfterFrame;
  if (known.state === 'done' && known.reading && known.proposal) {
    looked = { reading: known.reading, proposal: known.proposal };
  } else {
    // It failed then, or came in before subjects were looked for.
    const file = sampleFileOf(folder, frame);
    looked = await crew.run<LookedAfterFrame>({ kind: 'look-after', file, jpeg: frame.format === 'jpeg' });
    stores.readings.done(frame.id, looked);
  }
  const measured = measuredOn(looked, kept);
  if (!needsFaces(kept)) return measured;
  return {
    ...measured,
    faces: await crew.run<FoundFace[]>({ kind: 'faces', file: sampleFileOf(folder, frame) }),
  };
}

const writtenBy = ({ id }: RoundJob) => `written by ${id}`;

/**
 * Puts a whole file under its reserved name. What lies there is replaced only where an earlier attempt at this job put
 * it there: the very file, as it was then. Resolves with whether it could be.
 */
async function publish({ stores }: Services, job: RoundJob, whole: string, place: string): Promise<boolean> {
  const note = writtenBy(job);
  if (existsSync(place) && fileState(place) === stores.notes.get(note)) await rm(place);
  if (existsSync(place)) return false;
  // Before it is there: were the process ended in between, it is known for ours.
  stores.notes.set(note, fileState(whole)!);
  try {
    await putInPlace(whole, place);
    return true;
  } catch (error) {
    if ((error as { code?: string }).code === 'FILE_EXISTS') return false;
    throw error;
  }
}

function reserveName({ stores, folder }: Services, round: Round, job: RoundJob, frame: Frame): string {
  const { takenAt } = frame.exposure;
  const name = nameFrom(round.namePattern, {
    frame: basename(frame.name, extname(frame.name)),
    stage: 'finished',
    counter: String(job.place + 1).padStart(3, '0'),
    date: (takenAt && DAY.exec(takenAt)?.[0]) ?? round.begunAt.slice(0, 10),
    prescription: round.kept.name,
  });
  const inFolder = (own: string) => (round.folder ? `${round.folder}/${own}` : own);
  const own = freeName(
    join(folder.outbox, round.folder),
    withinBytes(name),
    SAVE_FORMAT_DESCRIPTIONS[round.format].ending,
    (taken) => stores.rounds.isReserved(inFolder(taken)),
  );
  stores.rounds.reserve(job.id, inFolder(own));
  return inFolder(own);
}

/** Where the audit is worst, else at the richest place of the subject, else in its middle. */
function cropPlace(frame: Frame, { mask }: Prescription, judgement: Judgement | null): Region {
  const whole = wholeOf(frame);
  const subject = boundsOfMask(mask.operations, frame) ?? whole;
  const at = judgement?.worst?.place ?? middleOf(judgement?.place ?? subject);
  const half = CROP_PX / 2;
  const left = Math.max(0, Math.min(frame.width - CROP_PX, Math.round(at.x) - half));
  const top = Math.max(0, Math.min(frame.height - CROP_PX, Math.round(at.y) - half));
  return intersect(grow({ x: left + half, y: top + half, width: 0, height: 0 }, half), whole);
}

const middleOf = ({ x, y, width, height }: Region) => ({ x: x + width / 2, y: y + height / 2 });
