import { patchMovement } from '../align/patchMovement';
import { drawnOver } from '../picture/drawnOver';
import { ciede2000, labOf, type Lab } from '../picture/cielab';
import { gaussianBlur } from '../picture/gaussianBlur';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { LIMITS, levelOf, verdictOf, worstOf, type Verdict } from './limits';

/** How a part of a face has changed. `value`s: % of the eye distance, CIEDE2000, 1 minus similarity. */
export interface PartLikeness {
  readonly shift: PartFigure;
  readonly hue: PartFigure;
  readonly structure: PartFigure;
  readonly worst: Verdict;
  /** The worst of the three on the scale where 1 is the beginning of *check* and 2 of *damaged*. */
  readonly level: number;
}

export interface PartFigure {
  readonly verdict: Verdict;
  readonly value: number;
}

interface Ellipse {
  readonly x: number;
  readonly y: number;
  readonly rx: number;
  readonly ry: number;
}

const SMOOTH_PER_RADIUS = 0.1;
const WINDOW_PER_RADIUS = 0.35;
/**
 * Wang, Bovik, Sheikh, Simoncelli, "Image quality assessment: from error visibility to structural similarity", 2004.
 */
const [C1, C2] = [0.01 ** 2, 0.03 ** 2];
/** A part farther off than this share of its radius is not the same part any more. */
const FARTHEST = 0.6;
/** Radius of a part at the scale at which it is followed, px. */
const FOLLOWED_RADIUS = 12;

/**
 * Holds one part of a face against the photograph: the result is given as a camera with the photograph's blur would see
 * it, so that what was truly recovered counts as unchanged.
 *
 * @param original, again - Linear sRGB, same size; `again` is the result blurred as the photograph was.
 * @param at - The part, in samples of the planes; they hold at least 1.5 of its radii.
 * @param eyeDistancePx - What the shift is measured against.
 */
export function likenessOf(original: Channels, again: Channels, at: Ellipse, eyeDistancePx: number): PartLikeness {
  const weight = weightOver(original[0].width, original[0].height, at);
  const radius = Math.min(at.rx, at.ry);
  const sigma = Math.max(1, SMOOTH_PER_RADIUS * radius);
  const [before, after] = [original, again].map((channels) => gaussianBlur(lightnessOf(channels), sigma));
  const moved = movedBy(before, after, at, sigma);
  const figure = (value: number, limit: (typeof LIMITS)['partShift' | 'partHue' | 'partStructure']): PartFigure => ({
    value,
    verdict: verdictOf(value, limit),
  });
  const shift = moved
    ? figure((100 * Math.hypot(moved.x, moved.y)) / eyeDistancePx, LIMITS.partShift)
    : ({ value: 0, verdict: 'not measurable' } as const);
  const hue = figure(ciede2000(...hueOnly(meanLab(original, weight), meanLab(again, weight))), LIMITS.partHue);
  const structure = figure(
    1 - similarity(before, after, weight, Math.max(1.5, WINDOW_PER_RADIUS * radius)),
    LIMITS.partStructure,
  );
  return {
    shift,
    hue,
    structure,
    worst: worstOf([shift.verdict, hue.verdict, structure.verdict]),
    level: Math.max(
      levelOf(shift.value, LIMITS.partShift),
      levelOf(hue.value, LIMITS.partHue),
      levelOf(structure.value, LIMITS.partStructure),
    ),
  };
}

/** How far the part has moved, px; null where too little shows to say. Large parts are followed at a smaller scale. */
function movedBy(before: Plane, after: Plane, at: Ellipse, sigma: number): { x: number; y: number } | null {
  const scale = Math.min(1, FOLLOWED_RADIUS / Math.min(at.rx, at.ry));
  const [still, moving] = scale < 1 ? [shrunk(before, scale), shrunk(after, scale)] : [before, after];
  const reach = Math.round(1.2 * scale * Math.max(at.rx, at.ry));
  const most = FARTHEST * scale * Math.min(at.rx, at.ry);
  const [x, y] = [(at.x + 0.5) * scale - 0.5, (at.y + 0.5) * scale - 0.5];
  const moved = patchMovement(still, moving, x, y, reach, most, sigma * scale);
  return moved && { x: moved.x / scale, y: moved.y / scale };
}

/** Of a plane that is smooth already. */
function shrunk(plane: Plane, scale: number): Plane {
  const size = { width: Math.ceil(plane.width * scale), height: Math.ceil(plane.height * scale) };
  return drawnOver(plane, { ...size, x: 0, y: 0, stepX: 1 / scale, stepY: 1 / scale });
}

/** 1 inside, falling softly to 0 at 1.4 radii. */
function weightOver(width: number, height: number, { x, y, rx, ry }: Ellipse): Plane {
  const out = createPlane(width, height);
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const far = Math.hypot((column - x) / rx, (row - y) / ry);
      out.data[row * width + column] = Math.min(1, Math.max(0, (1.4 - far) / 0.4));
    }
  }
  return out;
}

/** CIE L* of luma, 0..1. */
function lightnessOf([red, green = red, blue = red]: Channels): Plane {
  const out = createPlane(red.width, red.height);
  for (let i = 0; i < out.data.length; i++) {
    out.data[i] = labOf(red.data[i], green.data[i], blue.data[i]).l / 100;
  }
  return out;
}

function meanLab([red, green = red, blue = red]: Channels, weight: Plane): Lab {
  let [r, g, b, sum] = [0, 0, 0, 0];
  for (let i = 0; i < weight.data.length; i++) {
    r += weight.data[i] * red.data[i];
    g += weight.data[i] * green.data[i];
    b += weight.data[i] * blue.data[i];
    sum += weight.data[i];
  }
  return labOf(r / sum, g / sum, b / sum);
}

/** Both at their mean lightness: only hue and chroma are left to differ. */
function hueOnly(p: Lab, q: Lab): [Lab, Lab] {
  const l = (p.l + q.l) / 2;
  return [
    { ...p, l },
    { ...q, l },
  ];
}

/** Weighted mean of the local similarity of structure (SSIM with a Gaussian window), 1: the same. */
function similarity(p: Plane, q: Plane, weight: Plane, sigma: number): number {
  const product = (a: Plane, b: Plane): Plane => ({ ...a, data: a.data.map((value, i) => value * b.data[i]) });
  const [mp, mq] = [p, q].map((plane) => gaussianBlur(plane, sigma).data);
  const [pp, qq, pq] = [product(p, p), product(q, q), product(p, q)].map((plane) => gaussianBlur(plane, sigma).data);
  let [sum, weights] = [0, 0];
  for (let i = 0; i < weight.data.length; i++) {
    if (weight.data[i] === 0) continue;
    const means = mp[i] * mq[i];
    const squares = mp[i] * mp[i] + mq[i] * mq[i];
    const alike = ((2 * means + C1) * (2 * (pq[i] - means) + C2)) / ((squares + C1) * (pp[i] + qq[i] - squares + C2));
    sum += weight.data[i] * alike;
    weights += weight.data[i];
  }
  return sum / weights;
}
