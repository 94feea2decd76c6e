import type { Size } from '../picture/region';
import { isRecovered } from '../prescription/masks';
import type { Prescription } from '../prescription/prescription';
import { sizeAfter } from '../stages/pipeline';

/**
 * What an eye tells apart: one minute of arc. At 250 mm that is 0.073 mm, 349 to the inch.
 * Source: Snellen's 20/20 line, e.g. Wandell, "Foundations of Vision", 1995 (from memory).
 */
const ARC_MINUTE = Math.PI / 180 / 60;

/** The finest that an eye tells apart from so far away, mm. */
export const finestSeen = (distanceMm: number): number => distanceMm * Math.tan(ARC_MINUTE);

/** Where pictures are looked at: how large a picture there is, and from how far. */
export interface Viewing {
  readonly name: string;
  readonly distanceMm: number;
  /** Of the picture's long side; null: as large as it stays sharp. */
  readonly longSideMm: number | null;
}

/** Common practice, no source. */
export const VIEWINGS: readonly Viewing[] = [
  { name: 'a phone', distanceMm: 300, longSideMm: 140 },
  { name: 'a screen of 24 inches', distanceMm: 600, longSideMm: 530 },
  { name: 'a television of 55 inches', distanceMm: 2500, longSideMm: 1210 },
];

/** Distances at which the largest print is told, mm: in the hand, at arm's length, on a wall. */
export const PRINT_DISTANCES = [250, 600, 1500] as const;

export interface FitFor {
  /** Width of the finest line in the finished picture, px of it. */
  readonly finestPx: number;
  readonly size: Size;
  /** The largest print that still looks sharp, mm, by distance. */
  readonly prints: readonly { readonly distanceMm: number; readonly widthMm: number; readonly heightMm: number }[];
  readonly viewings: readonly { readonly viewing: Viewing; readonly isSharp: boolean }[];
}

const FULL = 100;

/**
 * How large the finished picture can be shown and still look sharp, from the finest detail that is left after recovery,
 * as the Reading tells it; null before there is one.
 */
export function fitFor(prescription: Prescription, frame: Size): FitFor | null {
  const { reading, recovery, geometry } = prescription;
  if (!reading) return null;
  const { finestNowPx, finestRecoverablePx } = reading.measured;
  const share = isRecovered(prescription) ? (recovery?.amount.value ?? FULL) / FULL : 0;
  const period = finestNowPx + share * (Math.min(finestNowPx, finestRecoverablePx) - finestNowPx);
  // A period is a line and the gap beside it.
  const inFrame = period / 2;
  const size = sizeAfter(prescription, frame);
  const before = sizeAfter({ ...prescription, size: undefined }, frame);
  // Nothing finer than its own px is in any picture.
  const finestPx = Math.max(1, (inFrame * (geometry?.enlarge ?? 1) * size.width) / before.width);
  const longPx = Math.max(size.width, size.height);
  return {
    finestPx,
    size,
    prints: PRINT_DISTANCES.map((distanceMm) => {
      const pitch = finestSeen(distanceMm) / finestPx;
      return { distanceMm, widthMm: size.width * pitch, heightMm: size.height * pitch };
    }),
    viewings: VIEWINGS.map((viewing) => ({
      viewing,
      isSharp: (viewing.longSideMm! / longPx) * finestPx <= finestSeen(viewing.distanceMm),
    })),
  };
}
