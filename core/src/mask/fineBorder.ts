import { boxMean } from '../picture/boxMean';
import { labOf } from '../picture/cielab';
import { cropPlane } from '../picture/crop';
import { gaussianBlur } from '../picture/gaussianBlur';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { grow, intersect, isEmpty, wholeOf, type Region, type Size } from '../picture/region';
import { gridCut } from './gridCut';
import { localColourCosts } from './localColours';
import { gridOver } from './grid';

/**
 * How far an outline moves in one round, and how wide its colours are gathered, in px of the picture that it was found
 * in.
 */
const BAND = 3;
const WINDOW = 12;
const ROUNDS = 3;
const SMOOTHING_PX = 0.7;
/** How much samples near the outline count when colours are gathered, beside those that lie deep. */
const IN_DOUBT = 0.05;
const SMOOTHNESS = 3;
const MOST_PULL = 6;
/** What the outline as it was says against the colours, in nats. */
const KEPT_PULL = 1;
const SURE = 1e6;
const EPS = 1e-4;

/**
 * An outline that was found in a smaller picture, drawn anew in a band around it: every sample goes to the side whose
 * colours nearby are more like its own, and the outline keeps to edges. A few rounds, since a band is narrow.
 *
 * @param labels - 1 where the subject is, as large as `picture`.
 * @param picture - Linear sRGB.
 * @param ratio - How many times larger `picture` is than the one that the outline was found in.
 * @param sure - 1 where a person said subject, −1 where not, else 0; null where nobody said anything.
 * Sources: Lombaert, Sun, Grady, Xu, "A multilevel banded graph cuts method for fast image segmentation", ICCV 2005;
 * local colours: Bai, Wang, Simons, Sapiro, "Video SnapCut", ACM Transactions on Graphics 28 (2009).
 */
export function fineBorder(labels: Uint8Array, picture: Channels, ratio: number, sure: Int8Array | null): Uint8Array {
  const whole = wholeOf(picture[0]);
  const reach = Math.max(2, Math.round(BAND * ratio));
  const windowPx = Math.round(WINDOW * ratio);
  const region = intersect(grow(outlineBounds(labels, whole), ROUNDS * reach + windowPx), whole);
  if (isEmpty(region)) return labels;
  const cut = picture.map((plane) => gaussianBlur(cropPlane(plane, region), SMOOTHING_PX));
  const said = sure && cutOut(sure, whole.width, region);
  const colours = new Colours(cut);
  let own = cutOut(labels, whole.width, region);
  if (said) for (let i = 0; i < own.length; i++) if (said[i] !== 0) own[i] = said[i] > 0 ? 1 : 0;
  let before: Uint8Array | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const isNearMoved = before && nearChanges(before, own, cut[0], 2 * reach);
    before = own;
    own = drawnAnew(own, colours, reach, windowPx, said, isNearMoved);
  }
  const out = labels.slice();
  for (let row = 0; row < region.height; row++) {
    const from = row * region.width;
    out.set(own.subarray(from, from + region.width), (region.y + row) * whole.width + region.x);
  }
  return out;
}

/** 1 within the square of `reach` around a sample whose label changed. */
function nearChanges(before: Uint8Array, after: Uint8Array, { width, height }: Size, reach: number): Uint8Array {
  const changed = createPlane(width, height);
  for (let i = 0; i < after.length; i++) if (after[i] !== before[i]) changed.data[i] = 1;
  const share = boxMean(changed, reach).data;
  const isNear = new Uint8Array(after.length);
  for (let i = 0; i < isNear.length; i++) if (share[i] > 0) isNear[i] = 1;
  return isNear;
}

function drawnAnew(
  labels: Uint8Array,
  colours: Colours,
  reach: number,
  windowPx: number,
  sure: Int8Array | null,
  isNearMoved: Uint8Array | null,
): Uint8Array {
  const { width, height } = colours;
  const own = { width, height, data: new Float32Array(labels) };
  const share = boxMean(own, reach).data;
  const near = boxMean(own, Math.max(1, Math.round(reach / 2))).data;
  const around = boxMean(own, windowPx + reach).data;
  colours.see(around);
  const isOpen = new Uint8Array(labels.length);
  for (let i = 0; i < labels.length; i++) {
    if (isNearMoved !== null && isNearMoved[i] === 0) continue;
    if (share[i] > EPS && share[i] < 1 - EPS && (sure === null || sure[i] === 0)) isOpen[i] = 1;
  }
  const costsOf = (label: 0 | 1) => {
    const weight = createPlane(width, height);
    for (let i = 0; i < labels.length; i++) {
      if (labels[i] !== label || colours.seen[i] === 0) continue;
      weight.data[i] = (label === 1 ? near[i] > 1 - EPS : near[i] < EPS) ? 1 : IN_DOUBT;
    }
    return localColourCosts(colours.planes, weight, windowPx, isOpen);
  };
  const inside = costsOf(1);
  const outside = costsOf(0);
  let sum = 0;
  let count = 0;
  for (let i = 0; i < labels.length; i++) {
    if (isOpen[i] === 0 || (i + 1) % width === 0) continue;
    sum += colours.apart(i, i + 1);
    count++;
  }
  const beta = count / Math.max(1e-9, 2 * sum);
  const grid = gridOver(width, height, withRim(isOpen, width), (i, j, isDiagonal) =>
    isOpen[i] === 0 && isOpen[j] === 0
      ? 0
      : (SMOOTHNESS * Math.exp(-beta * colours.apart(i, j))) / (isDiagonal ? Math.SQRT2 : 1),
  );
  const pull = new Float32Array(grid.samples.length);
  for (let k = 0; k < pull.length; k++) {
    const i = grid.samples[k];
    if (isOpen[i] === 0) pull[k] = labels[i] === 1 ? SURE : -SURE;
    else {
      const like = Math.min(MOST_PULL, Math.max(-MOST_PULL, outside[i] - inside[i]));
      pull[k] = like + KEPT_PULL * (2 * share[i] - 1);
    }
  }
  const out = labels.slice();
  const cut = gridCut(grid, pull);
  for (let k = 0; k < cut.length; k++) if (isOpen[grid.samples[k]] === 1) out[grid.samples[k]] = cut[k];
  return out;
}

/** The open samples and those beside them, whose labels stand. */
function withRim(isOpen: Uint8Array, width: number): Uint8Array {
  const out = isOpen.slice();
  for (let i = 0; i < isOpen.length; i++) {
    if (isOpen[i] === 0) continue;
    for (const row of [i - width, i, i + width]) {
      for (let j = row - 1; j <= row + 1; j++) if (j >= 0 && j < out.length) out[j] = 1;
    }
  }
  return out;
}

/** Lightness, a and b on one scale, worked out where they are asked for. */
class Colours {
  readonly width: number;
  readonly height: number;
  readonly planes: readonly Plane[];
  /** 1 where they are known. */
  readonly seen: Uint8Array;

  constructor(private readonly picture: Channels) {
    const [{ width, height }] = picture;
    this.width = width;
    this.height = height;
    this.planes = [0, 1, 2].map(() => createPlane(width, height));
    this.seen = new Uint8Array(width * height);
  }

  /** Where both sides are near. */
  see(share: Float32Array): void {
    const [red, green = red, blue = red] = this.picture.map(({ data }) => data);
    const [lightness, a, b] = this.planes.map(({ data }) => data);
    const { seen } = this;
    for (let i = 0; i < seen.length; i++) {
      if (seen[i] === 1 || share[i] < EPS || share[i] > 1 - EPS) continue;
      const lab = labOf(red[i], green[i], blue[i]);
      lightness[i] = lab.l / 12;
      a[i] = lab.a / 8;
      b[i] = lab.b / 8;
      seen[i] = 1;
    }
  }

  apart(i: number, j: number): number {
    const [{ data: lightness }, { data: a }, { data: b }] = this.planes;
    return (lightness[i] - lightness[j]) ** 2 + (a[i] - a[j]) ** 2 + (b[i] - b[j]) ** 2;
  }
}

/** The smallest region that holds every change of label; empty where there is none. */
function outlineBounds(labels: Uint8Array, { width, height }: Region): Region {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const isEdge =
        (x + 1 < width && labels[i] !== labels[i + 1]) || (y + 1 < height && labels[i] !== labels[i + width]);
      if (!isEdge) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  }
  return right < 0
    ? { x: 0, y: 0, width: 0, height: 0 }
    : { x: left, y: top, width: right - left + 2, height: bottom - top + 2 };
}

function cutOut<T extends Uint8Array | Int8Array>(from: T, stride: number, { x, y, width, height }: Region): T {
  const out = (from instanceof Uint8Array ? new Uint8Array(width * height) : new Int8Array(width * height)) as T;
  for (let row = 0; row < height; row++) {
    const start = (y + row) * stride + x;
    out.set(from.subarray(start, start + width), row * width);
  }
  return out;
}
