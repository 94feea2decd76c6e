/** How coverage joins the mask so far: 1 − (1 − m)(1 − c), m·(1 − c), or m·c. */
export type CombineMode = 'add' | 'erase' | 'intersect';

/** One act on a mask. Coordinates and sizes in px of the upright original, so a mask can be drawn at any scale. */
export type MaskOperation = (
  | Stroke
  | AreaOperation
  | RadialOperation
  | LinearOperation
  | { readonly kind: 'invert' }
  /** Everything is covered. */
  | { readonly kind: 'fill' }
  /** The mask so far reaches farther by so many px; below 0 less far. */
  | { readonly kind: 'grow'; readonly px: number }
  /** A hard edge of the mask so far then falls from 90 to 10 % over so many px. */
  | { readonly kind: 'feather'; readonly px: number }
) & {
  /** Left out of the mask for now. */
  readonly isOff?: boolean;
};

export interface Stroke {
  readonly kind: 'stroke';
  readonly mode: 'add' | 'erase';
  /** Diameter of the brush. */
  readonly sizePx: number;
  /** 0: hard edge; 100: falls off from the middle. */
  readonly featherPercent: number;
  /** 0..100; left out it is 100. */
  readonly opacityPercent?: number;
  /** x0, y0, x1, y1, … along the stroke. */
  readonly points: readonly number[];
  /** How hard the pen was pressed at each point, 0..1: it scales the size. Left out it is 1 throughout. */
  readonly pressures?: readonly number[];
}

/** An ellipse; its edge falls off inwards. */
export interface RadialOperation {
  readonly kind: 'radial';
  readonly mode: CombineMode;
  readonly x: number;
  readonly y: number;
  readonly rx: number;
  readonly ry: number;
  readonly featherPercent: number;
  /** What it covers, such as a part of a face. */
  readonly name?: string;
}

/** Covers all on the far side of (x0, y0), nothing beyond (x1, y1), and falls between. */
export interface LinearOperation {
  readonly kind: 'linear';
  readonly mode: CombineMode;
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** 0 up to the first, rising to 1 at the second, 1 to the third, falling to 0 at the fourth. */
export type Handles = readonly [number, number, number, number];

/** What an area was made from, so that it can be made again. */
export type AreaOrigin =
  | {
      readonly kind: 'subject';
      readonly dabs: readonly Dab[];
      /**
       * What was pointed at is meant and nothing else: a loop, x0, y0, x1, y1 … px of the frame, or empty: the dabs
       * alone.
       */
      readonly only?: readonly number[];
    }
  /** Over encoded brightness 0..1. */
  | { readonly kind: 'tone'; readonly band: Handles }
  /** Over sharpness, 0 the softest place of the frame, 1 its sharpest. */
  | { readonly kind: 'focus'; readonly band: Handles }
  /** CIE Lab of the picked place, and the difference ΔE00 up to which colours belong to it. */
  | { readonly kind: 'colour'; readonly l: number; readonly a: number; readonly b: number; readonly tolerance: number }
  /** A stroke that stopped at edges. */
  | { readonly kind: 'edges' }
  | { readonly kind: 'holes' }
  | { readonly kind: 'specks' }
  | { readonly kind: 'file'; readonly name: string };

/** Coverage that was computed or brought in, kept smaller than the frame and spread over it. */
export interface AreaOperation {
  readonly kind: 'area';
  readonly mode: CombineMode;
  readonly from: AreaOrigin;
  readonly frameWidth: number;
  readonly frameHeight: number;
  readonly width: number;
  readonly height: number;
  /** As `packCoverage` packs it. */
  readonly values: string;
  /** Equal keys, equal coverage. */
  readonly key: string;
}

/** Corners of a loop at most. */
export const MOST_LOOP_POINTS = 400;

/** A place the person pointed at: this is the subject, or it is not. Px of the frame. */
export interface Dab {
  readonly x: number;
  readonly y: number;
  readonly radius: number;
  readonly isSubject: boolean;
}

export interface Mask {
  readonly id: string;
  readonly name: string;
  /** 0..100: how far the correction under the mask reaches. */
  readonly opacityPercent: number;
  readonly operations: readonly MaskOperation[];
}
