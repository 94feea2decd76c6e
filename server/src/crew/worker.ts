import { stat } from 'node:fs/promises';
import {
  areaOperation,
  centreBox,
  boundsOfMask,
  clippedOver,
  CoreError,
  decodePiece,
  drawMask,
  FINAL_EFFORT,
  grow,
  keptCoverage,
  reachOfPrescription,
  renderTile,
  takeReading,
  tilesToRender,
  tonesOf,
  wholeOf,
  filledPlane,
  movedReading,
  type AreaOperation,
  type Region,
} from '@vitrocept/core';
import {
  alignVersion,
  clippingView,
  encodeCopy,
  encodePages,
  ensureSamples,
  inspectPicture,
  encodeMask,
  nodeKernels,
  placeTile,
  readCodes,
  readGreyPlane,
  writeAtomically,
} from '@vitrocept/files';
import type { AlignTask, EncodeTask, InspectTask, MaskFileTask, MaskTask, ReadingTask, Task, TileTask } from './tasks';

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
      return readCodes(task.file, wholeOf(task.file)).then(tonesOf);
    case 'clipping':
      return readCodes(task.file, wholeOf(task.file)).then((piece) => clippingView(piece, task.side));
    case 'reading':
      return reading(task);
    case 'tiles':
      return tilesToRender(task.prescription, task.file);
    case 'tile':
      return renderOne(task);
    case 'copy':
      return readCodes(task.file, wholeOf(task.file)).then(({ codes }) => new Uint16Array(task.whole).set(codes));
    case 'encode':
      return encode(task);
  }
}

/** Without operations the whole frame is meant. */
function wholeMask({ width, height, operations, bits, format }: MaskTask): Promise<Uint8Array> {
  const mask = operations.length > 0 ? drawMask(operations, wholeOf({ width, height })) : filledPlane(width, height, 1);
  return encodeMask(mask, bits, format);
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
    await writeAtomically(samples, new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
  }
  return { alignment, width, height };
}

async function inspect({ path, samples }: InspectTask) {
  const { format, width, height, channels, bits, space, exposure } = await inspectPicture(path);
  // Decoding to the end is the only proof that the file is whole.
  await ensureSamples({ path: samples, original: path });
  return { format, width, height, channels, bits, profile: space.description, exposure };
}

async function reading({ file, jpeg, mask, box }: ReadingTask) {
  const area: Region = mask ? (boundsOfMask(mask, file) ?? wholeOf(file)) : (box ?? centreBox(file));
  const piece = await readCodes(file, area);
  const { space } = await inspectPicture(file.original);
  const { region } = piece;
  if (region.width === 0 || region.height === 0) throw new CoreError('READING_AREA', 'The box lies outside the frame.');
  const result = takeReading({
    channels: decodePiece(piece, region, space),
    lumaWeights: space.lumaWeights,
    use: mask ? drawMask(mask, region) : filledPlane(region.width, region.height, 1),
    clipped: clippedOver(piece, region),
    jpeg,
    kernels: await nodeKernels(),
    masked: mask !== null,
  });
  return movedReading(result, region.x, region.y);
}

async function renderOne({ file, prescription, tile, whole, stop }: TileTask): Promise<void> {
  const { space } = await inspectPicture(file.original);
  const piece = await readCodes(file, grow(tile, reachOfPrescription(prescription)));
  const flag = new Int32Array(stop);
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels(), shouldStop: () => Atomics.load(flag, 0) === 1 };
  const { codes, changed } = renderTile({ frame: file, space }, prescription, piece, tile, effort);
  if (changed) placeTile(new Uint16Array(whole), file, tile, codes);
}

async function encode({ file, pages, format, quality, place }: EncodeTask): Promise<number> {
  const facts = await inspectPicture(file.original);
  // The codecs do not take shared memory.
  const own = pages.map(({ name, whole }) => ({ name, codes: new Uint16Array(whole).slice() }));
  const bytes =
    own.length > 1 ? encodePages(facts, own) : await encodeCopy({ facts, codes: own[0].codes }, format, quality);
  await writeAtomically(place, bytes);
  return (await stat(place)).size;
}
