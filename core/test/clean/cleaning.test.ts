import { describe, expect, it } from 'vitest';
import {
  AS_MEASURED,
  automaticCleaning,
  checkPrescription,
  cleanChannels,
  cleaningAs,
  cleaningFigures,
  CLEANING_SETTINGS,
  cleanTile,
  colourSpaceOf,
  DRAFT_EFFORT,
  emptyPrescription,
  encodeChannels,
  filledPlane,
  fitNoise,
  PLAIN_KERNELS,
  renderTile,
  srgbDecode,
  tilesToRender,
  type Cleaning,
  type CodePiece,
  type Plane,
  type Prescription,
} from '../../src';
import { deadLeaves, normal, psnr, seeded, withNoise } from '../synthetic';

const space = colourSpaceOf(null, 3);
const SIGMA = 0.03;
const white = [0, 1, 2].map(() => ({ a: 0, b: SIGMA ** 2 }));
const byHand = (value: number) => ({ value, auto: false });

function prescribed(part: Partial<Cleaning> = {}): Prescription {
  const empty = emptyPrescription();
  const reading = { noise: white, noiseFloor: [1e-5, 1e-5, 1e-5], sizes: [], measured: {} };
  return {
    ...empty,
    // Of a reading only its noise matters here.
    reading: reading as unknown as Prescription['reading'],
    cleaning: { ...automaticCleaning(null), detailKept: byHand(0), ...part },
  };
}

function pieceOf(channels: readonly Plane[]): CodePiece {
  const { width, height } = channels[0];
  return { region: { x: 0, y: 0, width, height }, channels: 3, codes: encodeChannels(channels, space) };
}

const render = (piece: CodePiece, prescription: Prescription) =>
  renderTile({ frame: piece.region, space }, prescription, piece, piece.region, {
    ...DRAFT_EFFORT,
    kernels: PLAIN_KERNELS,
  }).codes;

const noisyFlat = (value: number, seed: number, side = 48) => withNoise(filledPlane(side, side, value), SIGMA, seed);

describe('cleaning', () => {
  const truth = deadLeaves(96, 96, 4, 5);
  const noisy = [1, 2, 3].map((seed) => withNoise(truth, SIGMA, seed));

  it('raises PSNR, leaves brightness alone; the second pass is worth its time', () => {
    const clean = cleanChannels(noisy, { noise: white, ...AS_MEASURED }, 0, 0, PLAIN_KERNELS);
    expect(psnr(clean[1], truth) - psnr(noisy[1], truth)).toBeGreaterThan(4);
    const mean = ({ data }: Plane) => data.reduce((sum, value) => sum + value, 0) / data.length;
    expect(mean(clean[0])).toBeCloseTo(mean(noisy[0]), 3);
    const once = {
      ...PLAIN_KERNELS,
      slidingDct: (plane: Plane, options: Parameters<typeof PLAIN_KERNELS.slidingDct>[1]) =>
        options.pilot ? options.pilot : PLAIN_KERNELS.slidingDct(plane, options),
    };
    const first = cleanChannels(noisy, { noise: white, ...AS_MEASURED }, 0, 0, once);
    expect(psnr(clean[1], truth)).toBeGreaterThan(psnr(first[1], truth) + 0.2);
  });

  it.each([1, 3])(
    'a frame of fine sharp texture is never worse than before, grey or in colour, noise read by ourselves',
    (channels) => {
      const texture = deadLeaves(128, 128, 21, 1.2);
      for (const sigma of [0.005, 0.02]) {
        const grainy = Array.from({ length: channels }, (_, c) => withNoise(texture, sigma, 90 + c));
        const noise = fitNoise(grainy, filledPlane(128, 128, 1));
        const clean = cleanChannels(grainy, { noise, ...AS_MEASURED }, 0, 0, PLAIN_KERNELS);
        expect(psnr(clean[0], texture)).toBeGreaterThan(psnr(grainy[0], texture) - 0.05);
      }
    },
  );

  it('luminance 0 leaves brightness, colour 0 leaves colour; both 0 change nothing', () => {
    const options = { noise: white, ...AS_MEASURED };
    const none = cleanChannels(noisy, { ...options, luminance: 0, colour: 0 }, 0, 0, PLAIN_KERNELS);
    none.forEach((plane, c) =>
      plane.data.forEach((value, i) => expect(Math.abs(value - noisy[c].data[i])).toBeLessThan(1e-5)),
    );
    const sum = (planes: readonly Plane[]) =>
      planes[0].data.map((value, i) => value + planes[1].data[i] + planes[2].data[i]);
    const colour = cleanChannels(noisy, { ...options, luminance: 0 }, 0, 0, PLAIN_KERNELS);
    const before = sum(noisy);
    sum(colour).forEach((value, i) => expect(Math.abs(value - before[i])).toBeLessThan(1e-4));
    expect(psnr(colour[0], truth)).toBeGreaterThan(psnr(noisy[0], truth) + 2);
    const grey = cleanChannels(noisy, { ...options, colour: 0 }, 0, 0, PLAIN_KERNELS);
    const difference = (planes: readonly Plane[]) => planes[0].data.map((value, i) => value - planes[2].data[i]);
    const apart = difference(noisy);
    const moved = difference(grey).reduce((total, value, i) => total + Math.abs(value - apart[i]), 0) / apart.length;
    expect(moved).toBeLessThan(0.005);
  });

  it('a colour edge of equal brightness stays where it is and does not smear', () => {
    const edge = [
      [0.5, 0.2],
      [0.28, 0.42],
      [0.3, 0.46],
    ].map(([left, right], c) => {
      const plane = filledPlane(64, 64, left);
      for (let i = 0; i < plane.data.length; i++) if (i % 64 >= 32) plane.data[i] = right;
      return { clean: plane, noisy: withNoise(plane, SIGMA, 20 + c) };
    });
    const channels = edge.map(({ noisy: plane }) => plane);
    for (const blotchPx of [8, 32]) {
      const cleaned = cleanChannels(channels, { noise: white, ...AS_MEASURED, blotchPx }, 0, 0, PLAIN_KERNELS);
      const column = (plane: Plane, x: number) => {
        let sum = 0;
        for (let y = 8; y < 56; y++) sum += plane.data[y * 64 + x];
        return sum / 48;
      };
      edge.forEach(({ clean }, c) => {
        for (const x of [28, 29, 30, 31, 32, 33, 34, 35]) {
          expect(Math.abs(column(cleaned[c], x) - column(clean, x))).toBeLessThan(0.012);
        }
      });
    }
  });

  it('wide blotches of colour go only where blotches of that width are cleaned', () => {
    const random = seeded(8);
    const coarse = Array.from({ length: 36 }, () => 0.04 * normal(random));
    const blotchy = [1, 0, -1].map((sign, c) => {
      const plane = noisyFlat(0.4, 30 + c, 96);
      for (let i = 0; i < plane.data.length; i++) {
        plane.data[i] += sign * coarse[6 * Math.floor(i / 96 / 16) + Math.floor((i % 96) / 16)];
      }
      return plane;
    });
    const spread = (planes: readonly Plane[]) =>
      Math.sqrt(
        planes[0].data.reduce((sum, value, i) => sum + (value - planes[2].data[i]) ** 2, 0) / planes[0].data.length,
      );
    const grain = {
      noise: white,
      brightness: new Array(11).fill(1),
      colour: new Array(11).fill(1),
      colourByScale: [3, 6, 12],
    };
    const at = (blotchPx: number) =>
      spread(cleanChannels(blotchy, { noise: white, grain, ...AS_MEASURED, blotchPx }, 0, 0, PLAIN_KERNELS));
    expect(at(64)).toBeLessThan(0.6 * at(8));
  });

  it('grain of a known spectrum is taken at its own strength', () => {
    // White noise, smoothed: nothing is left of its finest part.
    const smooth = [1, 2, 3].map((seed) => {
      const plane = noisyFlat(0.4, seed, 64);
      const data = plane.data.map((value, i) => (value + plane.data[Math.min(i + 1, plane.data.length - 1)]) / 2);
      return { ...plane, data: data.map((value, i) => (value + data[Math.min(i + 64, data.length - 1)]) / 2) };
    });
    const shape = Array.from({ length: 11 }, (_, i) => Math.cos((Math.PI * Math.min(8, i)) / 16) ** 2);
    const grain = { noise: white, brightness: shape, colour: shape, colourByScale: [1, 1, 1] };
    const spread = (planes: readonly Plane[]) =>
      Math.sqrt(planes[1].data.reduce((s, v) => s + (v - 0.4) ** 2, 0) / 4096);
    const cleaned = cleanChannels(smooth, { noise: white, grain, ...AS_MEASURED }, 0, 0, PLAIN_KERNELS);
    expect(spread(cleaned)).toBeLessThan(0.5 * spread(smooth));
    // A faint pattern at the finest scale, which this grain does not reach: it is kept; taken for white it would go.
    const faint = smooth.map((plane) => ({
      ...plane,
      data: plane.data.map((value, i) => value + 0.004 * ((i + Math.floor(i / 64)) % 2 ? 1 : -1)),
    }));
    const pattern = (planes: readonly Plane[]) =>
      planes[1].data.reduce((s, v, i) => s + v * ((i + Math.floor(i / 64)) % 2 ? 1 : -1), 0) / 4096 / 0.004;
    expect(pattern(cleanChannels(faint, { noise: white, grain, ...AS_MEASURED }, 0, 0, PLAIN_KERNELS))).toBeGreaterThan(
      0.8,
    );
    expect(pattern(cleanChannels(faint, { noise: white, ...AS_MEASURED }, 0, 0, PLAIN_KERNELS))).toBeLessThan(0.3);
  });
});

const sourceOf = ({ region }: CodePiece) => ({ frame: region, space });

describe('cleaning as prescribed', () => {
  it('the tone band is exact at its four handles', () => {
    // Patches whose encoded brightness lies at the handles and between them.
    const band = [0.2, 0.4, 0.6, 0.8] as const;
    const share = (tone: number, seed: number) => {
      const channels = [0, 1, 2].map((c) => noisyFlat(srgbDecode(tone), seed + c));
      const tile = { x: 16, y: 16, width: 16, height: 16 };
      const prescription = prescribed({ band: [...band] });
      const all = prescribed();
      const one = (p: Prescription) =>
        cleanTile(sourceOf(pieceOf(channels)), p, pieceOf(channels), tile, PLAIN_KERNELS);
      const [banded, whole] = [one(prescription), one(all)];
      const [mine, most] = [banded, whole].map(({ original, cleaned }) =>
        original.reduce((sum, code, i) => sum + Math.abs(code - cleaned[i]), 0),
      );
      return mine / most;
    };
    expect(share(0.1, 1)).toBe(0);
    expect(share(0.2, 2)).toBeLessThan(0.06);
    expect(share(0.3, 3)).toBeCloseTo(0.5, 1);
    expect(share(0.42, 4)).toBeCloseTo(1, 1);
    expect(share(0.5, 5)).toBe(1);
    expect(share(0.7, 6)).toBeCloseTo(0.5, 1);
    expect(share(0.9, 7)).toBe(0);
  });

  it('keeps the share of detail that is asked for, and cleans each channel as far as said', () => {
    const channels = [0, 1, 2].map((c) => noisyFlat(0.4, 40 + c));
    const piece = pieceOf(channels);
    const [all, half, blue] = [
      prescribed(),
      prescribed({ detailKept: byHand(50) }),
      prescribed({ channelPercents: [0, 0, 100] }),
    ].map((p) => render(piece, p));
    for (let i = 0; i < piece.codes.length; i += 7) {
      const removed = piece.codes[i] - all[i];
      // Halves are mixed in linear light; over so small a change the curve is nearly straight.
      expect(Math.abs(piece.codes[i] - half[i] - removed / 2)).toBeLessThan(4 + 0.12 * Math.abs(removed));
      if (i % 3 < 2) expect(blue[i]).toBe(piece.codes[i]);
    }
    expect(blue[2]).toBe(all[2]);
  });

  it('limited to a mask changes no code outside it, and only its tiles', () => {
    const channels = [0, 1, 2].map((c) => withNoise(filledPlane(300, 160, 0.4), SIGMA, 50 + c));
    const piece = pieceOf(channels);
    const stroke = { kind: 'stroke', mode: 'add', sizePx: 60, featherPercent: 50, points: [80, 90] } as const;
    const base = prescribed({ maskId: 'mask-1' });
    const masked = { ...base, mask: { ...base.mask, operations: [stroke] } };
    const tiles = tilesToRender(masked, piece.region);
    expect(tiles).toHaveLength(1);
    const codes = render(piece, masked);
    let changed = 0;
    for (let y = 0; y < 160; y++) {
      for (let x = 0; x < 300; x++) {
        const i = (y * 300 + x) * 3;
        const isSame = codes[i] === piece.codes[i] && codes[i + 1] === piece.codes[i + 1];
        if (Math.hypot(x - 80, y - 90) > 31) expect(isSame).toBe(true);
        else if (!isSame) changed++;
      }
    }
    expect(changed).toBeGreaterThan(1000);
    // Without a stroke in it a mask limits nothing.
    expect(tilesToRender(base, piece.region).length).toBeGreaterThan(1);
  });

  it('every setting that is offered is a valid prescription, and they differ', () => {
    const keys = CLEANING_SETTINGS.map((setting) => {
      const cleaning = cleaningAs(setting, null);
      if (!cleaning) return setting;
      expect(checkPrescription({ ...emptyPrescription(), cleaning }).cleaning).toEqual(cleaning);
      return JSON.stringify(cleaning);
    });
    expect(new Set(keys).size).toBe(keys.length);
  });
});

describe('what was removed', () => {
  const hairs = (seed: number) => {
    const random = seeded(seed);
    const plane = filledPlane(96, 96, 0.3);
    for (let k = 0; k < 60; k++) {
      const [x0, y0, angle] = [96 * random(), 96 * random(), 0.9 + 0.3 * random()];
      for (let t = 0; t < 60; t += 0.5) {
        const [x, y] = [Math.round(x0 + t * Math.cos(angle)), Math.round(y0 + t * Math.sin(angle))];
        if (x >= 0 && y >= 0 && x < 96 && y < 96) plane.data[y * 96 + x] = 0.3 + 0.11 * (k % 2 ? 1 : -1);
      }
    }
    return plane;
  };
  const tile = { x: 24, y: 24, width: 48, height: 48 };
  const judged = (channels: readonly Plane[], part: Partial<Cleaning>) =>
    cleaningFigures(
      [cleanTile(sourceOf(pieceOf(channels)), prescribed(part), pieceOf(channels), tile, PLAIN_KERNELS).check],
      tile,
    );

  it('plain places: nothing but noise, and how much grain is left', () => {
    const channels = [0, 1, 2].map((c) => noisyFlat(0.35, 60 + c, 96));
    const { edges, texture, grain } = judged(channels, { detailKept: byHand(25) });
    expect(edges.verdict === 'safe' || edges.verdict === 'not measurable').toBe(true);
    expect(texture.verdict).toBe('not measurable');
    expect(grain).toBeGreaterThan(0.2);
    expect(grain).toBeLessThan(0.4);
  });

  it('hairs: safe on Automatic, found when cleaned far too hard, and where', () => {
    const scene = hairs(3);
    const channels = [0, 1, 2].map((c) => withNoise(scene, SIGMA, 70 + c));
    const gentle = judged(channels, { detailKept: byHand(20) });
    expect(gentle.texture.verdict).toBe('safe');
    const hard = judged(channels, { luminance: byHand(200), detailKept: byHand(0) });
    // Cleaned as if noise were four times as strong: the reading is wrong, and the check must not believe it.
    const noise = white.map(({ b }) => ({ a: 0, b: 16 * b }));
    const wrong = prescribed({ luminance: byHand(200) });
    const check = cleanTile(
      sourceOf(pieceOf(channels)),
      { ...wrong, reading: { ...wrong.reading!, noise } },
      pieceOf(channels),
      tile,
      PLAIN_KERNELS,
    ).check;
    const blind = cleaningFigures([check], tile);
    expect(hard.texture.value).toBeGreaterThan(gentle.texture.value);
    expect(blind.edges.verdict).toBe('damaged');
    expect(blind.edges.x).toBeGreaterThanOrEqual(tile.x);
    expect(blind.edges.x).toBeLessThan(tile.x + tile.width);
  });

  it('fur under the noise that is cleaned away is called wax', () => {
    const random = seeded(5);
    const fur = filledPlane(96, 96, 0.3);
    for (let i = 0; i < fur.data.length; i++) fur.data[i] += 0.03 * normal(random);
    const channels = [0, 1, 2].map((c) => withNoise(fur, SIGMA, 80 + c));
    const { texture } = judged(channels, { luminance: byHand(180) });
    expect(texture.verdict).toBe('damaged');
  });
});
