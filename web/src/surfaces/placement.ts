/** How the frame lies on the surface: px of the page per px of the frame, and where its corner is. */
export interface Placement {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

export interface SurfacePointer {
  readonly kind: 'down' | 'move' | 'up' | 'leave';
  /** Place in the frame, px; pixel centres at whole numbers. */
  readonly x: number;
  readonly y: number;
  readonly isShiftDown: boolean;
  /** Of a pen, 0..1; null where the pointer knows none. */
  readonly pressure: number | null;
}
