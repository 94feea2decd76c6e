import { CoreError, wholeOf, type Plane, type Psf, type Reading } from '@vitrocept/core';
import { firstLook, nodeKernels, takeFileReading, type DecodedPicture, type FileReadingWishes } from '@vitrocept/files';

export const MEASURED_OVER = {
  mask: 'mask',
  subject: 'subject',
  richest: 'richest places',
  whole: 'whole frame',
} as const;

export interface MeasuredFrame {
  readonly reading: Reading;
  readonly over: keyof typeof MEASURED_OVER;
  /** The mask's or the subject's share of the frame; null where there is neither. */
  readonly share: number | null;
  /** What is to be recovered, 0..1 over the frame; null: all of it. */
  readonly mask: Plane | null;
}

/** Measures over the mask given, else over the subject where one stands out, else where most detail is. */
export async function measureFrame(
  picture: DecodedPicture,
  { mask, wholeFrame, psf }: { mask: Plane | null; wholeFrame: boolean; psf?: Psf },
): Promise<MeasuredFrame> {
  const read = async (over: Plane | null, wishes: FileReadingWishes = {}) =>
    takeFileReading(picture, wholeOf(picture), over, await nodeKernels(), { psf, ...wishes });
  if (mask) return { reading: await read(mask), over: 'mask', share: meanOf(mask), mask };
  if (wholeFrame) return { reading: await read(null), over: 'whole', share: null, mask: null };
  // The first look is taken with their filters too.
  await nodeKernels();
  const look = await firstLook(picture);
  const reading = await read(look.mask, { isSubject: look.kind === 'subject' }).catch((error: unknown) => {
    if (look.mask && error instanceof CoreError && error.code === 'READING_AREA') return null;
    throw error;
  });
  // What was found is too small or too bright to be measured.
  if (!reading) return { reading: await read(null), over: 'whole', share: null, mask: null };
  if (look.kind !== 'subject' || !look.mask) return { reading, over: look.kind, share: null, mask: null };
  const isAlike = psf !== undefined || (await looksAlikeAround(reading, look.mask, read));
  return { reading, over: 'subject', share: look.share, mask: isAlike ? null : look.mask };
}

/** Sizes that differ by less than this many times are one blur. */
const ALIKE = 1.3;

/** What lies around the subject is blurred as the subject is: then all of the frame is recovered. */
async function looksAlikeAround(
  { cause }: Reading,
  subject: Plane,
  read: (over: Plane, wishes: FileReadingWishes) => Promise<Reading>,
): Promise<boolean> {
  if (!cause) return true;
  const around = { ...subject, data: subject.data.map((value) => 1 - value) };
  // Too bright or too small to be measured: nothing to recover there.
  const look = async (isTriage: boolean) => (await read(around, { isTriage }).catch(() => null))?.cause;
  // A quick look tells a family and its size; only a path it may miss.
  let other = await look(true);
  if (cause.method === 'camera-shake' && other?.method !== cause.method) other = await look(false);
  if (!other || other.method !== cause.method) return false;
  const ratio = other.blurSizePx / cause.blurSizePx;
  return cause.method === 'camera-shake' || (ratio < ALIKE && ratio > 1 / ALIKE);
}

const meanOf = ({ data }: Plane) => data.reduce((sum, value) => sum + value, 0) / data.length;
