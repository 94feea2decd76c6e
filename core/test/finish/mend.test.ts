import { describe, expect, it } from 'vitest';
import {
  addMend,
  colourSpaceOf,
  createPlane,
  DRAFT_EFFORT,
  emptyPrescription,
  encodeChannels,
  findSource,
  mended,
  passThrough,
  PLAIN_KERNELS,
  regionNeeded,
  regionOfMend,
  regionOfSearch,
  removeMend,
  wholeOf,
  type Mend,
  type Plane,
  type Prescription,
} from '../../src';
import { membrane } from '../../src/finish/membrane';
import { deadLeaves, withNoise } from '../synthetic';

const FRAME = { width: 200, height: 150 };

describe('mending', () => {
  const texture = withNoise(deadLeaves(200, 150, 44, 1.5), 0.01, 3);
  const spoiled = (mark: (x: number, y: number) => boolean, value: number): Plane => ({
    ...texture,
    data: texture.data.map((own, i) => (mark(i % 200, Math.floor(i / 200)) ? value : own)),
  });
  const local = (x: number, y: number, r: number) => {
    const values: number[] = [];
    for (let v = y - r; v <= y + r; v++) for (let u = x - r; u <= x + r; u++) values.push(texture.data[v * 200 + u]);
    const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
    return Math.sqrt(values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / values.length);
  };
  const mendedBy = (plane: Plane, stroke: Mend['stroke']) => {
    const region = regionOfSearch(stroke, FRAME);
    const piece = createPlane(region.width, region.height);
    for (let y = 0; y < region.height; y++) {
      for (let x = 0; x < region.width; x++)
        piece.data[y * region.width + x] = plane.data[(region.y + y) * 200 + region.x + x];
    }
    const source = findSource([piece], region, stroke, [])!;
    const mend: Mend = { id: 'm', stroke, dx: source.x, dy: source.y, turnDeg: 0 };
    return { mend, result: mended([plane], wholeOf(FRAME), mend) };
  };
  const residual = (
    { place, channels }: ReturnType<typeof mended>,
    mark: (x: number, y: number) => boolean,
  ): number => {
    let [sum, n] = [0, 0];
    channels[0].data.forEach((value, i) => {
      const [x, y] = [place.x + (i % place.width), place.y + Math.floor(i / place.width)];
      if (!mark(x, y)) return;
      sum += (value - texture.data[y * 200 + x]) ** 2;
      n++;
    });
    return Math.sqrt(sum / n);
  };

  it('a drop is covered so that what is left lies within the local texture’s own', () => {
    const mark = (x: number, y: number) => Math.hypot(x - 90, y - 70) <= 6;
    const { result } = mendedBy(spoiled(mark, 1), { points: [90, 70], sizePx: 18 });
    // Two places of one texture differ by √2 of its spread.
    expect(residual(result, mark)).toBeLessThan(Math.SQRT2 * local(90, 70, 14));
    expect(Math.max(...result.channels[0].data)).toBeLessThan(0.9);
  });

  it('a hair, and a line that was invented, are painted over', () => {
    for (const value of [0, 0.95]) {
      const mark = (x: number, y: number) => x >= 60 && x <= 110 && Math.abs(y - 60 - 0.3 * (x - 60)) < 1.2;
      const { result } = mendedBy(spoiled(mark, value), { points: [58, 59.5, 112, 75.5], sizePx: 9 });
      expect(residual(result, mark)).toBeLessThan(Math.SQRT2 * local(85, 67, 14));
    }
  });

  it('the source is neither the place itself nor one that is covered already', () => {
    const stroke = { points: [90, 70], sizePx: 20 };
    const region = regionOfSearch(stroke, FRAME);
    const piece = { width: region.width, height: region.height, data: new Float32Array(region.width * region.height) };
    const first = findSource([piece], region, stroke, [])!;
    const there = { points: [90 + first.x, 70 + first.y], sizePx: 20 };
    const second = findSource([piece], region, stroke, [there])!;
    expect(Math.hypot(first.x, first.y)).toBeGreaterThan(18);
    expect(Math.hypot(second.x - first.x, second.y - first.y)).toBeGreaterThan(18);
    expect(
      findSource(
        [{ width: 30, height: 30, data: new Float32Array(900) }],
        { x: 0, y: 0, width: 30, height: 30 },
        { points: [15, 15], sizePx: 20 },
        [],
      ),
    ).toBeNull();
  });

  it('its seam is a membrane: harmonic inside, as given outside', () => {
    const edge = createPlane(41, 33);
    const free = new Uint8Array(41 * 33);
    for (let y = 0; y < 33; y++) {
      for (let x = 0; x < 41; x++) {
        edge.data[y * 41 + x] = 0.3 * x - 0.2 * y;
        if (Math.hypot(x - 20, y - 16) < 11) free[y * 41 + x] = 1;
      }
    }
    const given = { ...edge, data: edge.data.map((value, i) => (free[i] ? 999 : value)) };
    const out = membrane(given, free);
    // A plane is harmonic: it must come out as it was.
    out.data.forEach((value, i) => expect(value).toBeCloseTo(edge.data[i], 2));
  });

  it('a tile shows the same of a mend whichever tile it is, and what it takes from may be mended itself', () => {
    const prescription: Prescription = [
      { id: '1', stroke: { points: [70, 70], sizePx: 16 }, dx: 40, dy: 0, turnDeg: 20 },
      { id: '2', stroke: { points: [110, 70], sizePx: 12 }, dx: -41, dy: 3, turnDeg: 0 },
    ].reduce(addMend, emptyPrescription());
    const codes = encodeChannels([texture], colourSpaceOf(null, 1));
    const source = { frame: FRAME, space: colourSpaceOf(null, 1) };
    const effort = { ...DRAFT_EFFORT, kernels: PLAIN_KERNELS };
    const piece = { region: wholeOf(FRAME), channels: 1 as const, codes };
    const all = passThrough(source, prescription, piece, wholeOf(FRAME), effort)!;
    const tile = { x: 64, y: 64, width: 64, height: 32 };
    const part = passThrough(source, prescription, piece, tile, effort)!;
    const needed = regionNeeded(source, prescription, tile, effort);
    expect(needed.width).toBeGreaterThan(tile.width);
    for (let y = 0; y < tile.height; y++) {
      for (let x = 0; x < tile.width; x++) {
        const own = part.planes[0].data[(tile.y + y - part.region.y) * part.region.width + tile.x + x - part.region.x];
        expect(own).toBeCloseTo(all.planes[0].data[(tile.y + y) * 200 + tile.x + x], 6);
      }
    }
    expect(regionOfMend(prescription.mends![0]).width).toBeGreaterThan(16);
    expect(removeMend(removeMend(prescription, '1'), '2').mends).toBeUndefined();
  });
});
