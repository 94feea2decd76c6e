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
  readingWindow,
  renderTile,
  takeReading,
  tilesToRender,
  addTones,
  noTones,
  wholeOf,
  filledPlane,
  movedReading,
  type AreaOperation,
  type Region,
} from '@vitrocept/core';
import {
  alignVersion,
  clippingView,
  ensureSamples,
  inspectPicture,
  encodeMask,
  nodeKernels,
  bandsOf,
  openPlainTiff,
  readCodes,
  readGreyPlane,
  writeCopy,
  writeSamples,
} from '@vitrocept/files';
import type { SampleFile } from '@vitrocept/files';
import type {
  AlignTask,
  BeginTask,
  EncodeTask,
  InspectTask,
  MaskFileTask,
  MaskTask,
  ReadingTask,
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
      return reading(task);
    case 'tiles':
      return tilesToRender(task.prescription, task.file);
    case 'tile':
      return renderOne(task);
    case 'begin':
      return begin(task);
    case 'encode':
      return encode(task);
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
  const { format, width, height, channels, bits, space, exposure } = await inspectPicture(path);
  // Decoding to the end is the only proof that the file is whole.
  await ensureSamples({ path: samples, original: path });
  return { format, width, height, channels, bits, profile: space.description, exposure };
}

/** Of the mask as it is drawn to find where most of it lies. */
const COVERAGE_SIDE = 400;

async function reading({ file, jpeg, mask, box }: ReadingTask) {
  const wanted: Region = mask ? (boundsOfMask(mask, file) ?? wholeOf(file)) : (box ?? centreBox(file));
  const scale = Math.min(1, COVERAGE_SIDE / Math.max(wanted.width, wanted.height));
  const area = readingWindow(wanted, mask && drawMask(mask, wanted, scale));
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
  const { space } = await inspectPicture(file.original);
  const piece = await readCodes(file, grow(tile, reachOfPrescription(prescription)));
  const flag = new Int32Array(stop);
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels(), shouldStop: () => Atomics.load(flag, 0) === 1 };
  const { codes, changed } = renderTile({ frame: file, space }, prescription, piece, tile, effort);
  if (!changed) return;
  const handle = openPlainTiff(result, false);
  try {
    handle.write(tile, codes);
  } finally {
    handle.close();
  }
}

async function encode({ file, pages, format, quality, place }: EncodeTask): Promise<number> {
  const facts = await inspectPicture(file.original);
  const opened = pages.map(({ name, result }) => ({ name, ...openPlainTiff(result, false) }));
  try {
    return await writeCopy(place, { facts, pages: opened, format, quality });
  } finally {
    for (const page of opened) page.close();
  }
}
