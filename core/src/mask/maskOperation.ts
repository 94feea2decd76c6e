/** One act on a mask. Coordinates and sizes in px of the upright original, so a mask can be drawn at any scale. */
export type MaskOperation =
  | {
      readonly kind: 'stroke';
      readonly mode: 'add' | 'erase';
      /** Diameter of the brush. */
      readonly sizePx: number;
      /** 0: hard edge; 100: falls off from the middle. */
      readonly featherPercent: number;
      /** x0, y0, x1, y1, … along the stroke. */
      readonly points: readonly number[];
    }
  | { readonly kind: 'invert' };

export interface Mask {
  readonly id: string;
  readonly name: string;
  /** 0..100: how far the correction under the mask reaches. */
  readonly opacityPercent: number;
  readonly operations: readonly MaskOperation[];
}
