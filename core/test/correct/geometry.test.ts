import { describe, expect, it } from 'vitest';
import {
  angleOfLine,
  createPlane,
  cropPlane,
  emptyPrescription,
  frameRegionFor,
  insideShare,
  pictureOver,
  resized,
  sizeAfter,
  straighten,
  toFrame,
  toLevel,
  vignetteGain,
  withCrop,
  withGeometry,
  withLongEdge,
  withRatio,
  cropOf,
  wholeOf,
  withCorrection,
  measureFringe,
  onGrid,
  type Geometry,
  type Plane,
  type Prescription,
  type Region,
} from '../../src';
import { enlargedAxis } from '../../src/correct/enlarge';
import { deadLeaves } from '../synthetic';

const FRAME = { width: 240, height: 160 };
const leaves = deadLeaves(240, 160, 5);
const framed = (geometry: Partial<Geometry>, old = emptyPrescription()): Prescription => ({
  ...old,
  geometry: { crop: null, quarterTurns: 0, ...geometry },
});
const over = (prescription: Prescription, region: Region, planes: readonly Plane[] = [leaves], frame = FRAME) => {
  const needed = frameRegionFor(prescription, frame, region);
  expect(needed.x).toBeGreaterThanOrEqual(0);
  expect(needed.x + needed.width).toBeLessThanOrEqual(frame.width);
  return pictureOver(
    planes.map((plane) => cropPlane(plane, needed)),
    prescription,
    frame,
    region,
  );
};
const whole = (prescription: Prescription, planes?: readonly Plane[], frame = FRAME) =>
  over(prescription, wholeOf(sizeAfter(prescription, frame)), planes, frame);

describe('framing', () => {
  it('867 × 1300 at 4 × is 3468 × 5200 (common practice, no source)', () => {
    expect(sizeAfter(framed({ enlarge: 4 }), { width: 867, height: 1300 })).toEqual({ width: 3468, height: 5200 });
  });

  it('turned by quarters and mirrored moves px as they are', () => {
    const [turned] = whole(framed({ quarterTurns: 1 }));
    expect(turned.data[0]).toBe(leaves.data[159 * 240]);
    const [mirrored] = whole(framed({ isMirrored: true }));
    expect(mirrored.data[0]).toBe(leaves.data[239]);
    const [both] = whole(framed({ quarterTurns: 1, isMirrored: true }));
    expect(both.data[0]).toBe(turned.data[159]);
  });

  it('enlarging shifts nothing: a ramp keeps its places', () => {
    const ramp = createPlane(60, 40);
    for (let i = 0; i < ramp.data.length; i++) ramp.data[i] = 0.1 + 0.01 * (i % 60) + 0.002 * Math.floor(i / 60);
    const [large] = whole(framed({ enlarge: 3 }), [ramp], { width: 60, height: 40 });
    for (const [x, y] of [
      [60, 60],
      [91, 31],
      [100, 77],
    ]) {
      const [u, v] = [(x + 0.5) / 3 - 0.5, (y + 0.5) / 3 - 0.5];
      expect(large.data[y * 180 + x]).toBeCloseTo(0.1 + 0.01 * u + 0.002 * v, 3);
    }
  });

  it.each([1.5, 2, 3.3])('enlarged %s × and shrunk again by area it is the original, within 1/255 rms', (enlarge) => {
    const [large] = whole(framed({ enlarge }));
    const back = shrunkByArea(large, FRAME.width, FRAME.height);
    let sum = 0;
    let count = 0;
    for (let y = 8; y < 152; y++) {
      for (let x = 8; x < 232; x++) {
        sum += (back.data[y * 240 + x] - leaves.data[y * 240 + x]) ** 2;
        count++;
      }
    }
    expect(Math.sqrt(sum / count)).toBeLessThan(1 / 255);
  });

  it.each<[string, Partial<Geometry>]>([
    ['enlarged', { enlarge: 1.7 }],
    ['straightened', { straightenDeg: 4.2 }],
    [
      'cropped, turned, mirrored, enlarged',
      { crop: { x: 31, y: 22, width: 150, height: 90 }, quarterTurns: 3, isMirrored: true, enlarge: 2 },
    ],
  ])('%s, a part is the part of the whole', (_, geometry) => {
    const prescription = framed(geometry);
    const [all] = whole(prescription);
    const region = { x: 37, y: 21, width: 64, height: 48 };
    const [part] = over(prescription, region);
    const same = cropPlane(all, region);
    let off = 0;
    part.data.forEach((value, i) => (off = Math.max(off, Math.abs(value - same.data[i]))));
    expect(off).toBeLessThan(1e-5);
  });

  it('straightened back and forth leaves the middle as it was, by Lanczos within a percent', () => {
    const smooth = resized(resized(leaves, 60, 40), 240, 160);
    const turned = framed({ straightenDeg: 5, crop: { x: 0, y: 0, ...FRAME } });
    const [once] = whole(turned, [smooth]);
    const [back] = whole(framed({ straightenDeg: -5, crop: { x: 0, y: 0, ...FRAME } }), [once]);
    for (let y = 50; y < 110; y += 7) {
      for (let x = 80; x < 160; x += 9) {
        expect(Math.abs(back.data[y * 240 + x] - smooth.data[y * 240 + x])).toBeLessThan(0.01);
      }
    }
  });

  it('a straightened picture shows nothing from outside the frame, and nearly all that it can', () => {
    for (const straightenDeg of [1, 7, -20, 45]) {
      const levelling = { frame: FRAME, straightenDeg, distortionPercent: 0 };
      const { x, y, width, height } = cropOf(framed({ straightenDeg }), FRAME);
      for (const corner of [
        { x, y },
        { x: x + width - 1, y },
        { x, y: y + height - 1 },
        { x: x + width - 1, y: y + height - 1 },
      ]) {
        const at = toFrame(levelling, corner);
        expect(at.x).toBeGreaterThan(-1);
        expect(at.y).toBeGreaterThan(-1);
        expect(at.x).toBeLessThan(FRAME.width);
        expect(at.y).toBeLessThan(FRAME.height);
      }
      expect(width / FRAME.width).toBeCloseTo(insideShare(levelling), 1);
    }
  });

  it('a crop is kept inside when the frame is turned under it, and a ratio holds', () => {
    const wide = withRatio(emptyPrescription(), FRAME, 16 / 9);
    expect(wide.geometry!.crop!.width / wide.geometry!.crop!.height).toBeCloseTo(16 / 9, 1);
    const turned = straighten(wide, FRAME, 10);
    expect(turned.geometry!.crop!.width).toBeLessThan(wide.geometry!.crop!.width);
    expect(withCrop(turned, FRAME, null).geometry!.crop).toBeNull();
    expect(withGeometry(turned, () => ({ crop: null, quarterTurns: 0 })).geometry).toBeNull();
    const upright = withRatio(
      withGeometry(emptyPrescription(), (one) => ({ ...one, quarterTurns: 1 })),
      FRAME,
      2 / 3,
    );
    expect(sizeAfter(upright, FRAME).width / sizeAfter(upright, FRAME).height).toBeCloseTo(2 / 3, 1);
  });

  it('is made smaller to a long edge, never larger', () => {
    const small = withLongEdge(emptyPrescription(), FRAME, 120);
    expect(sizeAfter(small, FRAME)).toEqual({ width: 120, height: 80 });
    expect(withLongEdge(small, FRAME, 240)).toEqual(emptyPrescription());
    expect(sizeAfter(withLongEdge(framed({ enlarge: 2 }), FRAME, 300), FRAME)).toEqual({ width: 300, height: 200 });
  });

  it('a drawn line becomes level, or upright where it is nearer to that', () => {
    expect(angleOfLine(0, 0, 100, 10)).toBeCloseTo(-5.71, 2);
    expect(angleOfLine(100, 10, 0, 0)).toBeCloseTo(-5.71, 2);
    expect(angleOfLine(0, 0, 8, 100)).toBeCloseTo(4.57, 2);
    // Turned by that angle its two ends lie at one height.
    const degrees = angleOfLine(30, 40, 200, 65);
    const at = (x: number, y: number) =>
      toLevel({ frame: FRAME, straightenDeg: degrees, distortionPercent: 0 }, { x, y });
    expect(at(30, 40).y).toBeCloseTo(at(200, 65).y, 9);
  });
});

function largerFromTheMiddle(plane: Plane, factor: number): Plane {
  const axis = (count: number) => {
    const middle = (count - 1) / 2;
    return enlargedAxis(count, count, { slope: 1 / factor, offset: middle - middle / factor }, false);
  };
  return onGrid(plane, axis(plane.width), axis(plane.height));
}

describe('the lens', () => {
  it('distortion and its inverse come back within 0.02 px', () => {
    for (const distortionPercent of [-15, -3, 4, 18]) {
      const levelling = { frame: { width: 6000, height: 4000 }, straightenDeg: 3, distortionPercent };
      for (const [x, y] of [
        [600, 500],
        [2999, 1999],
        [5400, 3300],
      ]) {
        const back = toLevel(levelling, toFrame(levelling, { x, y }));
        expect(Math.hypot(back.x - x, back.y - y)).toBeLessThan(0.02);
      }
    }
  });

  it('moves the corner by so many percent of half the diagonal', () => {
    const frame = { width: 6001, height: 4001 };
    const at = toFrame({ frame, straightenDeg: 0, distortionPercent: 5 }, { x: 6000, y: 4000 });
    expect(Math.hypot(at.x - 3000, at.y - 2000) / Math.hypot(3000, 2000)).toBeCloseTo(1.05, 3);
  });

  it('a planted colour fringe of 0.1 % is found within 0.01 %, also between channels that are not alike', () => {
    const green = deadLeaves(700, 500, 9, 2);
    const scaled = (percent: number) => largerFromTheMiddle(green, 1 + percent / 100);
    const unlike = (plane: Plane): Plane => ({
      ...plane,
      data: plane.data.map((value) => 0.1 + 0.6 * Math.max(0, value) ** 1.3),
    });
    for (const percent of [0.1, -0.1]) {
      expect(Math.abs(measureFringe(scaled(percent), green) - percent)).toBeLessThan(0.01);
      expect(Math.abs(measureFringe(unlike(scaled(percent)), green) - percent)).toBeLessThan(0.01);
    }
    expect(Math.abs(measureFringe(green, green))).toBeLessThan(0.002);
  });

  it('what was measured takes it away', () => {
    const green = deadLeaves(240, 160, 12, 2);
    const red = largerFromTheMiddle(green, 1.004);
    const measured = measureFringe(red, green);
    const prescription = withCorrection(emptyPrescription(), 'redFringePercent', measured);
    const [fixed, own] = whole(prescription, [red, green, green]);
    const far = (p: Plane, q: Plane) => {
      let sum = 0;
      for (let y = 10; y < 150; y++)
        for (let x = 10; x < 230; x++) sum += (p.data[y * 240 + x] - q.data[y * 240 + x]) ** 2;
      return Math.sqrt(sum);
    };
    expect(far(fixed, own)).toBeLessThan(0.6 * far(red, green));
  });
});

it('a vignette has exactly its value in the corner, and none before it begins', () => {
  for (const softness of [0, 50, 100]) {
    expect(vignetteGain({ cornerPercent: -40, startPercent: 30, softness }, 1)).toBeCloseTo(0.6, 12);
    expect(vignetteGain({ cornerPercent: 25, startPercent: 30, softness }, 1)).toBeCloseTo(1.25, 12);
    expect(vignetteGain({ cornerPercent: -40, startPercent: 30, softness }, 0.3)).toBe(1);
  }
});

/** The mean over what each sample covers: written anew, to be independent of what it checks. */
function shrunkByArea(plane: Plane, width: number, height: number): Plane {
  const out = createPlane(width, height);
  const [sx, sy] = [plane.width / width, plane.height / height];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let [sum, area] = [0, 0];
      for (let v = Math.floor(y * sy); v < Math.min(plane.height, Math.ceil((y + 1) * sy)); v++) {
        const down = Math.min(v + 1, (y + 1) * sy) - Math.max(v, y * sy);
        for (let u = Math.floor(x * sx); u < Math.min(plane.width, Math.ceil((x + 1) * sx)); u++) {
          const own = down * (Math.min(u + 1, (x + 1) * sx) - Math.max(u, x * sx));
          sum += own * plane.data[v * plane.width + u];
          area += own;
        }
      }
      out.data[y * width + x] = sum / area;
    }
  }
  return out;
}
