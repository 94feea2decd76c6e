import type { Size } from '../picture/region';

/**
 * By how much light grows from the middle of the frame to give back what the lens lost: the cos⁴ law with the angle at
 * which the corner has lost `percent`. The argument is the squared distance from the middle, of that of the corner.
 *
 * Source: the cos⁴ law, e.g. Kingslake, "Optics in Photography", SPIE 1992 (from memory): cos⁴θ = 1 / (1 + tan²θ)².
 */
export function fallOffGain(percent: number): (squaredDistance: number) => number {
  const tangent = 1 / Math.sqrt(1 - percent / 100) - 1;
  return (squared) => (1 + tangent * squared) ** 2;
}

/** Middle of a frame, px whose centres lie at integers, and the squared distance of its corner. */
export function middleOf({ width, height }: Size) {
  const [x, y] = [(width - 1) / 2, (height - 1) / 2];
  return { x, y, corner: (width * width + height * height) / 4 };
}
