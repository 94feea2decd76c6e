import type { Psf } from '../psf/psf';
import type { StoredPath } from '../psf/storedPath';
import type { SettingKey, ShapeKey } from './settings';

export const BLUR_METHODS = ['ordinary-softness', 'missed-focus', 'straight-movement', 'camera-shake'] as const;
export type BlurMethod = (typeof BLUR_METHODS)[number];
export const METHODS = [...BLUR_METHODS, 'edge-contrast', 'fine-texture'] as const;
export type Method = (typeof METHODS)[number];

export function isBlurMethod(method: Method): method is BlurMethod {
  return (BLUR_METHODS as readonly string[]).includes(method);
}

/**
 * What the point spread function of a method needs: full width at half maximum, diameter or length in px, direction
 * (°).
 */
export interface BlurModel extends BlurShape {
  readonly method: Method;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  /** Of a camera shake; the others need none. */
  readonly path?: StoredPath;
}

/** What a point of light became besides its size. Left out it is round. */
export type BlurShape = { readonly [key in ShapeKey]?: number };

/** One way of recovering: all that is known of it besides its computation. */
export interface MethodDescription {
  readonly name: string;
  readonly help: string;
  /** Behind a size in px: 7.0 px across. */
  sizeWords(blur: { readonly directionDeg: number }): string;
  /** The settings it has, in the order in which they are shown. */
  readonly settings: readonly SettingKey[];
  readonly shapes: readonly ShapeKey[];
  /** Blur size where a reading found another cause, or none. */
  readonly usualSizePx: number;
  /** Halo limit on Automatic, % of the neighbourhood's range; null is off. */
  haloLimitPercent(blurVaries: boolean): number | null;
  /** It follows a path, which only a reading finds. */
  readonly followsPath: boolean;
}

/** A method that takes back a blur. */
export interface BlurMethodDescription extends MethodDescription {
  /** @throws CoreError for a blur that cannot be, NO_PATH without the path it follows. */
  psf(blur: BlurModel): Psf;
  /**
   * px a recovered value depends on for each px the blur reaches, at about 1 % noise: more the more zeros its spectrum
   * has.
   */
  readonly reachPerPx: number;
}
