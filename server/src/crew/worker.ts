import {
  areaOperation,
  centreBox,
  CoreError,
  decodePiece,
  drawMask,
  FINAL_EFFORT,
  keptCoverage,
  regionNeeded,
  passThrough,
  cutTo,
  encodeTile,
  encodeChannels,
  frameRegionFor,
  needsFrameGuide,
  pictureOver,
  tilesToRender,
  addTones,
  noTones,
  filledPlane,
  type AreaOperation,
  type Plane,
  type Region,
} from '@vitrocept/core';
import { writeFile } from 'node:fs/promises';
import {
  alignVersion,
  beforeAfter,
  cleaningHoldsIn,
  clippingView,
  ensureSamples,
  inspectPicture,
  keepView,
  judgePlaces,
  lookAfter,
  encodeMask,
  findFaces,
  gradePractice,
  guideBytes,
  guideOf,
  nodeKernels,
  bandsOf,
  openPlainTiff,
  practiceView,
  proofSheet,
  readCodes,
  readGreyPlane,
  readOver,
  spaceOfSamples,
  subjectInFile,
  takePracticeFrame,
  triage,
  truthPng,
  viewJpeg,
  writeCopy,
  writeSamples,
  writeTruthSamples,
} from '@vitrocept/files';
import type { Judgement, SampleFile } from '@vitrocept/files';
import type {
  AlignTask,
  BeforeAfterTask,
  BeginTask,
  EncodeTask,
  InspectTask,
  JudgeTask,
  MaskFileTask,
  MaskTask,
  PictureTask,
  Task,
  TileTask,
} from './tasks';

/** Runs one task in a worker thread. Known refusals come back as values: errors lose their code between threads. */
export default async function work(task: Task): Promise<unknown> {
  try {
    return { value: await perform(task) };
  } catch (error) {
    const { code, message, stack } = error as { code?: string; message: string; stack?: string };
    return { error: message, code: code ?? 'FAILED', stack };
  }
}

function perform(task: Task): unknown {
  switch (task.kind) {
    case 'inspect':
      return inspect(task);
    case 'align':
      return alignOne(task);
    case 'mask':
      return wholeMask(task);
    case 'mask-file':
      return maskFromFile(task);
    case 'tones':
      return tones(task.file);
    case 'clipping':
      return clippingView(task.file, task.side);
    case 'reading':
      return readOver(task.file, task.jpeg, task.mask, task.box ?? centreBox(task.file));
    case 'triage':
      return triage(task.file, task.jpeg);
    case 'practice':
      return takePracticeFrame(task.truths, task.frame).then((jpeg) => writeFile(task.path, jpeg));
    case 'practice-view':
      return practiceView(task.truths, task.frame, task.side);
    case 'truth':
      return writeTruthSamples(task.truths, task.frame, task.file, task.samples).then(() =>
        truthPng(task.truths, task.frame),
      );
    case 'grade':
      return gradePractice(task.file, task.prescription, task.truths, task.frame);
    case 'look-after':
      return lookAfter(task.file, task.jpeg);
    case 'guide':
      return guideOf(task.file).then(({ channels }) => guideBytes(channels));
    case 'faces':
      return findFaces(task.file);
    case 'view':
      return viewJpeg(task.file, task.side);
    case 'subject':
      return subjectInFile(task.file);
    case 'tiles':
      return tilesToRender(task.prescription, task.file);
    case 'tile':
      return renderOne(task);
    case 'picture':
      return pictureTile(task);
    case 'begin':
      return begin(task);
    case 'encode':
      return encode(task);
    case 'proof':
      return proofSheet(task.copies, task.as);
    case 'judge':
      return judge(task);
    case 'cleaning-holds':
      return nodeKernels().then((kernels) => cleaningHoldsIn(task.file, task.prescription, kernels));
    case 'before-after':
      return writeBeforeAfter(task);
  }
}

/** Without operations the whole frame is meant. */
function wholeMask({ width, height, operations, bits, format }: MaskTask): Promise<Uint8Array> {
  const draw = (rows: Region) =>
    operations.length > 0 ? drawMask(operations, rows) : filledPlane(rows.width, rows.height, 1);
  return encodeMask({ width, height }, draw, bits, format);
}

/** A mask made elsewhere, as an area. */
async function maskFromFile({ path, name, width, height }: MaskFileTask): Promise<AreaOperation> {
  const plane = await readGreyPlane(path, 'mask');
  if (plane.width !== width || plane.height !== height) {
    throw new CoreError(
      'MASK_SIZE',
      `The mask has ${plane.width} × ${plane.height} px, the frame ${width} × ${height} px; they must be the same.`,
    );
  }
  return areaOperation(keptCoverage(plane), { width, height }, 'add', { kind: 'file', name });
}

async function alignOne({ original, version, samples }: AlignTask) {
  const { alignment, width, height, codes } = await alignVersion(original, version, await nodeKernels());
  if (alignment.isAligned) {
    await writeSamples(samples, new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
  }
  return { alignment, width, height };
}

async function inspect({ path, samples }: InspectTask) {
  const { format, width, height, channels, bits, space, exposure, isSensorData } = await inspectPicture(path);
  // Decoding to the end is the only proof that the file is whole.
  await ensureSamples({ path: samples, original: path });
  if (isSensorData) await keepView({ path: samples, original: path, width, height, channels, bits });
  return { format, width, height, channels, bits, profile: space.description, exposure };
}

async function tones(file: SampleFile): Promise<number[][]> {
  const counts = noTones(file.channels);
  for await (const band of bandsOf(file)) addTones(counts, band);
  return counts;
}

async function begin({ file, result }: BeginTask): Promise<void> {
  const handle = openPlainTiff(result, true);
  try {
    for await (const { region, codes } of bandsOf(file)) handle.write(region, codes);
  } finally {
    handle.close();
  }
}

async function renderOne({ file, prescription, tile, result, stop }: TileTask): Promise<void> {
  const guide = needsFrameGuide(prescription) ? await guideOf(file) : undefined;
  const source = { frame: file, space: await spaceOfSamples(file), guide };
  const flag = new Int32Array(stop);
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels(), shouldStop: () => Atomics.load(flag, 0) === 1 };
  const piece = await readCodes(file, regionNeeded(source, prescription, tile, effort));
  const passed = passThrough(source, prescription, piece, tile, effort);
  const isLinear = result.bits === 32;
  // Codes of the original stand in the result already; of its light nothing does.
  if (!passed && !isLinear) return;
  const handle = openPlainTiff(result, false);
  try {
    const light = () => (passed ? cutTo(passed, tile) : decodePiece(piece, tile, source.space));
    handle.write(tile, isLinear ? interleaved(light()) : encodeTile(source, piece, tile, passed).codes);
  } finally {
    handle.close();
  }
}

async function pictureTile({ file, prescription, tile, linear, result }: PictureTask): Promise<void> {
  const space = await spaceOfSamples(file);
  const needed = frameRegionFor(prescription, file, tile);
  const [from, to] = [openPlainTiff(linear, false), openPlainTiff(result, false)];
  try {
    const planes = separated(from.floats(needed), needed, file.channels);
    to.write(tile, encodeChannels(pictureOver(planes, prescription, file, tile), space));
  } finally {
    from.close();
    to.close();
  }
}

function interleaved(planes: readonly Plane[]): Float32Array {
  const out = new Float32Array(planes.length * planes[0].data.length);
  planes.forEach(({ data }, c) => {
    for (let i = 0; i < data.length; i++) out[i * planes.length + c] = data[i];
  });
  return out;
}

function separated(samples: Float32Array, { width, height }: Region, channels: number): Plane[] {
  return Array.from({ length: channels }, (_, c) => {
    const data = new Float32Array(width * height);
    for (let i = 0, from = c; i < data.length; i++, from += channels) data[i] = samples[from];
    return { width, height, data };
  });
}

async function encode({ file, pages, format, quality, wishes, how, place, mayReplace }: EncodeTask): Promise<number> {
  const { width, height } = pages[0].result;
  const facts = { ...(await inspectPicture(file.original)), width, height };
  const opened = pages.map(({ name, result }) => ({ name, ...openPlainTiff(result, false) }));
  try {
    const wish = { facts, pages: opened, format, quality, wishes, how };
    return await writeCopy(place, wish, mayReplace ? 'allowed' : 'never');
  } finally {
    for (const page of opened) page.close();
  }
}

async function judge({ file, prescription, findsAmount }: JudgeTask): Promise<Judgement> {
  return judgePlaces(file, prescription, findsAmount, { ...FINAL_EFFORT, kernels: await nodeKernels() });
}

async function writeBeforeAfter({ file, result, place, before, after }: BeforeAfterTask): Promise<void> {
  const jpegs = await beforeAfter(file, result, place);
  await writeFile(before, jpegs.before);
  await writeFile(after, jpegs.after);
}
