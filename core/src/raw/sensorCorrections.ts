import type { Size } from '../picture/region';

/** Which samples a correction is for: every so-many-th row and column of a part, and which planes. */
export interface CorrectedArea {
  readonly top: number;
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
  readonly plane: number;
  readonly planes: number;
  readonly rowPitch: number;
  readonly columnPitch: number;
}

/** Gains on a coarse grid; places are shares of the picture's height and width. */
export interface GainMap {
  readonly kind: 'gain-map';
  readonly area: CorrectedArea;
  readonly rows: number;
  readonly columns: number;
  readonly planes: number;
  readonly spacing: { readonly down: number; readonly across: number };
  readonly origin: { readonly down: number; readonly across: number };
  /** Row by row, the planes of a point one after the other. */
  readonly gains: readonly number[];
}

/** Light is multiplied by 1 + k₀r² + k₁r⁴ + …, r as a share of the way from the middle to the farthest corner. */
export interface RadialGain {
  readonly kind: 'radial-gain';
  readonly k: readonly number[];
  readonly middle: { readonly across: number; readonly down: number };
}

/** A number for each row or column of the area, multiplied with or added. */
export interface LineCorrection {
  readonly kind: 'scale' | 'delta';
  readonly along: 'row' | 'column';
  readonly area: CorrectedArea;
  readonly values: readonly number[];
}

/** What light becomes: a table of 0..65535, or a polynomial of it. */
export interface ToneMap {
  readonly kind: 'table' | 'polynomial';
  readonly area: CorrectedArea;
  readonly values: readonly number[];
}

/** What a maker wrote down to be done with a sensor's light before colours are filled in. */
export type SensorCorrection = GainMap | RadialGain | LineCorrection | ToneMap;

/**
 * Does them in their order, in place.
 *
 * @param light - 0 black, 1 white, interleaved; of the part that saw light.
 * @param planes - 1 for a mosaic.
 * Source: the open DNG specification (1.4.0.0, chapter 7): GainMap, FixVignetteRadial, ScalePerRow and PerColumn,
 * DeltaPerRow and PerColumn, MapTable, MapPolynomial.
 */
export function correctSensor(
  light: Float32Array,
  size: Size,
  planes: number,
  corrections: readonly SensorCorrection[],
): void {
  for (const correction of corrections) {
    if (correction.kind === 'radial-gain') correctRadially(light, size, planes, correction);
    else eachSample(light, size, planes, correction.area, changeOf(correction, size));
  }
}

type Change = (value: number, x: number, y: number, plane: number) => number;

function changeOf(correction: Exclude<SensorCorrection, RadialGain>, size: Size): Change {
  switch (correction.kind) {
    case 'gain-map':
      return (value, x, y, plane) => value * gainAt(correction, (y + 0.5) / size.height, (x + 0.5) / size.width, plane);
    case 'scale':
    case 'delta': {
      const { area, along, values } = correction;
      const of = (x: number, y: number) =>
        values[along === 'row' ? (y - area.top) / area.rowPitch : (x - area.left) / area.columnPitch];
      return correction.kind === 'scale'
        ? (value, x, y) => value * (of(x, y) ?? 1)
        : (value, x, y) => value + (of(x, y) ?? 0);
    }
    case 'table': {
      const { values } = correction;
      const last = values.length - 1;
      return (value) => values[Math.min(last, Math.max(0, Math.round(value * CODES)))] / CODES;
    }
    case 'polynomial': {
      const { values } = correction;
      return (value) => values.reduceRight((sum, coefficient) => sum * value + coefficient, 0);
    }
  }
}

const CODES = 65535;

/** Between the points of the grid by lines, beyond it as at its rim. */
function gainAt(
  { rows, columns, planes, spacing, origin, gains }: GainMap,
  down: number,
  across: number,
  plane: number,
) {
  const placeOf = (share: number, first: number, step: number, count: number) => {
    const place = step > 0 ? Math.min(count - 1, Math.max(0, (share - first) / step)) : 0;
    const before = Math.min(Math.floor(place), Math.max(0, count - 2));
    return { before, after: Math.min(count - 1, before + 1), share: place - before };
  };
  const y = placeOf(down, origin.down, spacing.down, rows);
  const x = placeOf(across, origin.across, spacing.across, columns);
  const of = (row: number, column: number) => gains[(row * columns + column) * planes + Math.min(plane, planes - 1)];
  const above = of(y.before, x.before) * (1 - x.share) + of(y.before, x.after) * x.share;
  const below = of(y.after, x.before) * (1 - x.share) + of(y.after, x.after) * x.share;
  return above * (1 - y.share) + below * y.share;
}

function eachSample(light: Float32Array, { width, height }: Size, planes: number, area: CorrectedArea, change: Change) {
  const last = Math.min(planes, area.plane + area.planes);
  for (let y = area.top; y < Math.min(height, area.bottom); y += area.rowPitch) {
    for (let x = area.left; x < Math.min(width, area.right); x += area.columnPitch) {
      for (let plane = area.plane; plane < last; plane++) {
        const i = (y * width + x) * planes + plane;
        light[i] = change(light[i], x, y, plane - area.plane);
      }
    }
  }
}

function correctRadially(light: Float32Array, { width, height }: Size, planes: number, { k, middle }: RadialGain) {
  const [mx, my] = [middle.across * (width - 1), middle.down * (height - 1)];
  const farthest = Math.max(mx, width - 1 - mx) ** 2 + Math.max(my, height - 1 - my) ** 2;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const squared = ((x - mx) ** 2 + (y - my) ** 2) / farthest;
      const gain = 1 + squared * k.reduceRight((sum, coefficient) => sum * squared + coefficient, 0);
      for (let plane = 0; plane < planes; plane++, i++) light[i] *= gain;
    }
  }
}

/** Sensor samples that say nothing: places of the part that saw light, and numbers that stand for such a place. */
export interface BadSamples {
  readonly places: readonly { readonly x: number; readonly y: number }[];
  readonly numbers: readonly number[];
}

/**
 * Puts the mean of the nearest good samples of the same colour in the place of bad ones, in place.
 *
 * @param numbers - A mosaic of 2 × 2 as it was read out.
 * Source: the open DNG specification (1.4.0.0, chapter 7), FixBadPixelsConstant and FixBadPixelsList, for what is
 * asked; how they are filled is left to the reader there.
 */
export function fillBadSamples(
  numbers: Uint16Array,
  { width, height }: Size,
  { places, numbers: marks }: BadSamples,
): void {
  const bad = new Uint8Array(width * height);
  for (const { x, y } of places) if (x >= 0 && y >= 0 && x < width && y < height) bad[y * width + x] = 1;
  if (marks.length > 0) numbers.forEach((value, i) => marks.includes(value) && (bad[i] = 1));
  for (let i = bad.indexOf(1); i >= 0; i = bad.indexOf(1, i + 1)) {
    const [x, y] = [i % width, Math.floor(i / width)];
    let [sum, count] = [0, 0];
    for (let reach = 2; reach <= MOST_REACH && count === 0; reach += 2) {
      for (let dy = -reach; dy <= reach; dy += 2) {
        for (let dx = -reach; dx <= reach; dx += 2) {
          const [u, v] = [x + dx, y + dy];
          if (u < 0 || v < 0 || u >= width || v >= height || bad[v * width + u] === 1) continue;
          sum += numbers[v * width + u];
          count++;
        }
      }
    }
    if (count > 0) numbers[i] = Math.round(sum / count);
  }
}

const MOST_REACH = 8;
