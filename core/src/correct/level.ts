import type { Point, Size } from '../picture/region';

/** How the frame lies in the level picture that is cropped from. */
export interface Levelling {
  readonly frame: Size;
  /** The frame is turned clockwise by so much. */
  readonly straightenDeg: number;
  readonly distortionPercent: number;
}

const middleOf = ({ width, height }: Size): Point => ({ x: (width - 1) / 2, y: (height - 1) / 2 });

/**
 * Radial change at the corner is `percent`; half the diagonal is 1. Source: Brown, Photogrammetric Engineering 32
 * (1966).
 */
const stretchAt = (percent: number, squared: number): number => 1 + (percent / 100) * squared;

/** Where a place of the level picture is found in the frame; px. */
export function toFrame({ frame, straightenDeg, distortionPercent }: Levelling, { x, y }: Point): Point {
  const middle = middleOf(frame);
  const angle = (-straightenDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [u, v] = [x - middle.x, y - middle.y];
  const squared = (u * u + v * v) / ((frame.width ** 2 + frame.height ** 2) / 4);
  const stretch = stretchAt(distortionPercent, squared);
  return { x: middle.x + stretch * (cos * u - sin * v), y: middle.y + stretch * (sin * u + cos * v) };
}

const NEWTON_STEPS = 12;

/** Where a place of the frame comes to lie in the level picture: the inverse of `toFrame`, by Newton's method. */
export function toLevel(levelling: Levelling, { x, y }: Point): Point {
  const { frame, straightenDeg, distortionPercent } = levelling;
  const middle = middleOf(frame);
  const [u, v] = [x - middle.x, y - middle.y];
  const far = Math.hypot(u, v);
  const corner = Math.hypot(frame.width, frame.height) / 2;
  const k = distortionPercent / 100 / corner ** 2;
  let radius = far;
  for (let step = 0; step < NEWTON_STEPS; step++) {
    radius -= (radius * (1 + k * radius * radius) - far) / (1 + 3 * k * radius * radius);
  }
  const shrink = far > 0 ? radius / far : 1;
  const angle = (straightenDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return { x: middle.x + shrink * (cos * u - sin * v), y: middle.y + shrink * (sin * u + cos * v) };
}

/** How many times smaller the largest rectangle of the frame's own shape is that shows nothing from outside it. */
export function insideShare({ frame, straightenDeg, distortionPercent }: Levelling): number {
  const { width, height } = frame;
  const angle = (Math.abs(straightenDeg) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const turned = Math.min(width / (width * cos + height * sin), height / (width * sin + height * cos));
  if (distortionPercent <= 0) return turned;
  // A corner's source must not lie beyond the frame's own corner.
  let share = 1;
  for (let step = 0; step < NEWTON_STEPS; step++) {
    const k = distortionPercent / 100;
    share -= (share * (1 + k * share * share) - 1) / (1 + 3 * k * share * share);
  }
  return turned * share;
}
