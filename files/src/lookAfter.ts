import {
  areaOperation,
  boundsOfMask,
  clippedOver,
  CoreError,
  cropPlane,
  decodePiece,
  drawMask,
  filledPlane,
  likelySubject,
  lumaOf,
  movedReading,
  prepareSubject,
  proposeProbes,
  readingWindow,
  REC709_WEIGHTS,
  scaledDown,
  srgbEncode,
  takeReading,
  whereToRead,
  wholeOf,
  type AreaOperation,
  type Channels,
  type FirstLook,
  type LookedAfterFrame,
  type MaskOperation,
  type ProbeProposal,
  type Reading,
  type Region,
  type WhereToRead,
} from '@vitrocept/core';
import { keptFacts, spaceOfSamples } from './keptFacts';
import { nodeKernels } from './nodeKernels';
import { readCodes, type SampleFile } from './sampleFile';
import { roughSmallPicture, smallPicture, subjectOf, SUBJECT_SIDE } from './smallPicture';

/** Of a mask as it is drawn to find where most of it lies. */
const COVERAGE_SIDE = 400;
/** Sorting a frame needs no more than so many px of it, and the subject no finer than this. */
const TRIAGE_PX = 0.75e6;
const TRIAGE_SIDE = 200;
const PROBES_SIDE = 1000;

/** A quick look at a frame, to sort it: its pile, rough cause and size, and its noise. No path is looked for. */
export async function triage(file: SampleFile, jpeg: boolean): Promise<FirstLook> {
  await nodeKernels();
  const where = whereToRead(await roughSmallPicture(file, TRIAGE_SIDE), file);
  const mask = where.coverage ? [coverageOver(where, file)] : null;
  const reading = await readSomewhere(file, jpeg, mask, { isTriage: true, mostPx: TRIAGE_PX });
  return { reading, over: where.kind, place: where.place };
}

/** All that a frame is looked at for before anybody asks: its subject, the Reading over it, and probes on it. */
export async function lookAfter(file: SampleFile, jpeg: boolean): Promise<LookedAfterFrame> {
  // Also what is not handed to them by name is filtered by them once they are there.
  await nodeKernels();
  const small = await smallPicture(file, SUBJECT_SIDE);
  const { cut, small: found } = prepareSubject(small);
  const where = whereToRead(cut, file, found);
  const mask = where.kind === 'subject' ? subjectOf(small, file).operation : null;
  const over = mask ?? (where.coverage ? coverageOver(where, file) : null);
  const reading = await readSomewhere(file, jpeg, over && [over], { isSubject: mask !== null });
  const probes = probesOn(small, mask, file);
  return { reading, proposal: { over: where.kind, share: where.share, mask, probes } };
}

type ReadingWish = { readonly isTriage?: boolean; readonly isSubject?: boolean; readonly mostPx?: number };

/** Over a mask that was found; where that is too small or too bright to be read, over the whole frame. */
async function readSomewhere(
  file: SampleFile,
  jpeg: boolean,
  mask: readonly MaskOperation[] | null,
  wish: ReadingWish,
): Promise<Reading> {
  const everywhere = () => readOver(file, jpeg, null, wholeOf(file), { ...wish, isSubject: false });
  if (!mask) return everywhere();
  return readOver(file, jpeg, mask, wholeOf(file), wish).catch((error: unknown) => {
    if (error instanceof CoreError && error.code === 'READING_AREA') return everywhere();
    throw error;
  });
}

/**
 * A reading over a mask, or else a region, of decoded samples. Places are in px of the frame.
 *
 * @throws CoreError READING_AREA
 */
export async function readOver(
  file: SampleFile,
  jpeg: boolean,
  mask: readonly MaskOperation[] | null,
  region: Region,
  { isTriage = false, isSubject, mostPx }: ReadingWish = {},
): Promise<Reading> {
  const wanted = mask ? (boundsOfMask(mask, file) ?? wholeOf(file)) : region;
  const scale = Math.min(1, COVERAGE_SIDE / Math.max(wanted.width, wanted.height));
  const area = readingWindow(wanted, mask && drawMask(mask, wanted, scale), mostPx);
  const piece = await readCodes(file, area);
  const space = await spaceOfSamples(file);
  const { region: read } = piece;
  if (read.width === 0 || read.height === 0) throw new CoreError('READING_AREA', 'The box lies outside the frame.');
  const result = takeReading({
    channels: decodePiece(piece, read, space),
    lumaWeights: space.lumaWeights,
    use: mask ? drawMask(mask, read) : filledPlane(read.width, read.height, 1),
    clipped: clippedOver(piece, read),
    jpeg,
    sensorNoise: (await keptFacts(file)).sensorNoise,
    kernels: await nodeKernels(),
    isSubject: isSubject ?? mask !== null,
    isTriage,
  });
  return movedReading(result, read.x, read.y);
}

/** The places that are read, as a mask of their own; never kept. */
const coverageOver = ({ coverage }: WhereToRead, file: SampleFile): AreaOperation =>
  areaOperation(coverage!, file, 'add', { kind: 'subject', dabs: [] });

function atSide(channels: Channels, side: number): Channels {
  const scale = side / Math.max(channels[0].width, channels[0].height);
  return scale < 1 ? channels.map((plane) => scaledDown(plane, scale)) : channels;
}

function probesOn(small: Channels, mask: AreaOperation | null, file: SampleFile): ProbeProposal[] {
  const few = atSide(small, PROBES_SIDE);
  const linear = lumaOf(few, few.length === 3 ? REC709_WEIGHTS : [1]);
  const luma = { ...linear, data: linear.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))) };
  const scale = luma.width / file.width;
  const subject = mask && cropPlane(drawMask([mask], wholeOf(file), scale), wholeOf(luma));
  return proposeProbes(luma, subject, likelySubject(few)?.head ?? null).map(({ kind, x, y }) => ({
    kind,
    x: Math.min(file.width - 1, Math.max(0, Math.round((x + 0.5) / scale - 0.5))),
    y: Math.min(file.height - 1, Math.max(0, Math.round((y + 0.5) / scale - 0.5))),
  }));
}
