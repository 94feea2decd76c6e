import type { StoredPath } from '../psf/storedPath';
import type { BlurCause } from '../spectrum/fitCause';

export interface CauseReading {
  readonly method: BlurCause | 'camera-shake';
  readonly blurSizePx: number;
  /** [0, 180), counter-clockwise from +x as seen; 0 where the cause has no direction. */
  readonly directionDeg: number;
  /** Of a camera shake. */
  readonly path?: StoredPath;
}

export interface PlaceReading {
  readonly x: number;
  readonly y: number;
  readonly blurSizePx: number;
}

/**
 * Why nothing is recovered by itself: nothing blurred it, a recovery would do harm, it would gain too little to be
 * sure, or the picture is soft and no known blur explains it.
 */
export const LEFT_ALONE = ['sharp', 'would-harm', 'gains-little', 'untold'] as const;
export type LeftAlone = (typeof LEFT_ALONE)[number];
