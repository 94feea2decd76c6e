/** Parts of a face whose likeness is judged; an animal's or a puppet's may lack some. */
export const FACE_PARTS = [
  'left eye',
  'right eye',
  'left iris',
  'right iris',
  'left brow',
  'right brow',
  'nose',
  'lips',
  'teeth',
] as const;
export type FacePartName = (typeof FACE_PARTS)[number];

/** One part: an ellipse of the frame, px. Left and right are the face's own. */
export interface FacePart {
  readonly part: FacePartName;
  readonly x: number;
  readonly y: number;
  readonly rx: number;
  readonly ry: number;
}

export interface Face {
  readonly id: string;
  readonly name: string;
  /** Found by the model, or placed by hand. */
  readonly isFound: boolean;
  /** How sure the model was of it, 0..1; of one placed by hand it says nothing. */
  readonly sureness?: number;
  readonly parts: readonly FacePart[];
}

/** A face as the model found it. */
export interface FoundFace {
  readonly parts: readonly FacePart[];
  readonly sureness: number;
}

/** Of a face seen from the side only one eye shows: two eyes lie about this many of its widths apart. */
const EYE_WIDTHS_APART = 2.1;

/** Distance between the eyes, px: what shifts are measured against. */
export function eyeDistance(parts: readonly FacePart[]): number {
  const centreOf = (side: 'left' | 'right') =>
    parts.find(({ part }) => part === `${side} eye`) ?? parts.find(({ part }) => part === `${side} iris`);
  const [left, right] = [centreOf('left'), centreOf('right')];
  if (left && right) return Math.hypot(left.x - right.x, left.y - right.y);
  const one = left ?? right;
  if (one) return EYE_WIDTHS_APART * 2 * one.rx * (one.part.endsWith('iris') ? 2.4 : 1);
  return Math.max(...parts.map(({ rx }) => 2 * rx));
}
