import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import {
  adaptKept,
  FINAL_EFFORT,
  isCleanedByItself,
  isSensorFormat,
  lookReasons,
  measuredOn,
  needsFaces,
  needsOnlyFirstLook,
  needsReading,
  needsSubject,
  saveFormatFault,
  usualWishes,
  withSafestAmount,
  type KeptPrescription,
  type LookReason,
  type MeasuredAnew,
  type Method,
  type SaveFormat,
} from '@vitrocept/core';
import {
  cleaningHoldsIn,
  findFaces,
  howMade,
  judgePlaces,
  lookAfter,
  nodeKernels,
  pageOf,
  readPicture,
  renderPicture,
  triage,
  writeCopy,
  type SampleFile,
} from '@vitrocept/files';

export interface RoundTask {
  readonly path: string;
  readonly originalSha256: string;
  readonly kept: KeptPrescription;
  readonly place: string;
  readonly format: SaveFormat;
  /** Folder for what is only needed meanwhile. */
  readonly scratch: string;
}

export interface RoundResult {
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly confidence: number | null;
  /** The strongest safe amount; null where it was not asked for. */
  readonly amount: number | null;
  readonly needsLook: readonly LookReason[];
  readonly bytes: number;
}

type Answer = { readonly value: RoundResult } | { readonly error: string };

/** Runs in a worker thread; what goes wrong with a frame comes back as a sentence. */
export default async function work(task: RoundTask): Promise<Answer> {
  try {
    return { value: await roundOne(task) };
  } catch (error) {
    return { error: (error as Error).message };
  }
}

/** Measures what is to be measured anew, adapts, judges, renders and writes one frame. */
async function roundOne({ path, originalSha256, kept, place, format, scratch }: RoundTask): Promise<RoundResult> {
  const picture = await readPicture(path);
  const unfit = saveFormatFault(format, picture.format);
  if (unfit) throw new Error(unfit);
  const { width, height, channels, bits } = picture;
  const file: SampleFile = {
    path: join(scratch, `${randomUUID()}.samples`),
    original: path,
    width,
    height,
    channels,
    bits,
  };
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels() };
  try {
    const anew = await measureAnew(file, picture.format === 'jpeg', kept);
    const whole = adaptKept(kept, picture, anew);
    const isHarm = isCleanedByItself(kept, whole) && !(await cleaningHoldsIn(file, whole, effort.kernels));
    const adapted = isHarm ? { ...whole, cleaning: null } : whole;
    const judgement = adapted.recovery ? await judgePlaces(file, adapted, kept.ways.amount === 'safest', effort) : null;
    const plan = judgement && judgement.amount !== null ? withSafestAmount(adapted, judgement.amount) : adapted;
    const { codes, ...size } = renderPicture(picture, plan, {}, effort);
    const facts = { ...picture, ...size };
    const how = howMade(
      { originalName: basename(path), originalSha256, stage: 'finished', prescription: plan },
      new Date(),
    );
    const wishes = usualWishes(format, isSensorFormat(picture.format));
    const bytes = await writeCopy(place, { facts, pages: [pageOf('', codes, facts)], format, wishes, how });
    const worst = (plan.recovery && judgement?.worst?.verdict) ?? null;
    return {
      method: plan.recovery?.method ?? null,
      blurSizePx: plan.recovery?.blurSizePx.value ?? 0,
      confidence: plan.reading?.measured.confidence ?? null,
      amount: judgement?.amount ?? null,
      needsLook: lookReasons(kept, plan, anew, judgement?.amount ?? null, worst),
      bytes,
    };
  } finally {
    for (const ending of ['', '.facts', '.guide', '.view.jpg']) await rm(`${file.path}${ending}`, { force: true });
  }
}

async function measureAnew(file: SampleFile, jpeg: boolean, kept: KeptPrescription): Promise<MeasuredAnew> {
  if (!needsReading(kept) && !needsSubject(kept)) return { reading: null, over: 'whole', subject: null };
  if (!needsOnlyFirstLook(kept)) {
    const measured = measuredOn(await lookAfter(file, jpeg), kept);
    return needsFaces(kept) ? { ...measured, faces: await findFaces(file) } : measured;
  }
  const { reading } = await triage(file, jpeg);
  return { reading, over: 'whole', subject: null };
}
