/** One act on a mask. Coordinates and sizes in px of the upright original, so a mask can be drawn at any scale. */
export type MaskOperation = (
  | {
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
    }
  | AreaOperation
  | { readonly kind: 'invert' }
) & {
  /** Left out of the mask for now. */
  readonly isOff?: boolean;
};

/** Coverage that was computed or brought in, kept smaller than the frame and spread over it. */
export interface AreaOperation {
  readonly kind: 'area';
  readonly mode: 'add' | 'erase';
  /** What it was made from, so that it can be made again. */
  readonly from: { readonly kind: 'subject'; readonly dabs: readonly Dab[] };
  readonly frameWidth: number;
  readonly frameHeight: number;
  readonly width: number;
  readonly height: number;
  /** As `packCoverage` packs it. */
  readonly values: string;
  /** Equal keys, equal coverage. */
  readonly key: string;
}

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
