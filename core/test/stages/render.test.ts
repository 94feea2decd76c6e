import { beforeAll, describe, expect, it } from 'vitest';
import {
  areaOperation,
  automaticCleaning,
  automaticRecovery,
  colourSpaceOf,
  createPlane,
  emptyPrescription,
  encodeChannels,
  FINAL_EFFORT,
  grow,
  intersect,
  METHODS,
  reachOfPrescription,
  renderTile,
  srgbDecode,
  tilesToRender,
  TILE_PX,
  tilesTouching,
  wholeOf,
  type CodePiece,
  type Method,
  type Prescription,
  type Region,
} from '../../src';
import { fastKernels } from '../fastKernels';
import { discPsf } from '../../src/psf/discPsf';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const FRAME = { width: 150, height: 110 };
const space = colourSpaceOf(null, 3);
const CORNER = {
  side: 5,
  lengthPx: 4,
  values: [0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0],
};
const effort = { ...FINAL_EFFORT, kernels: fastKernels };
let whole: CodePiece;

beforeAll(() => {
  const planes = [1, 2, 3].map((seed) =>
    withNoise(convolve(deadLeaves(FRAME.width, FRAME.height, seed, 3), discPsf(2)), 0.004, seed),
  );
  whole = { region: wholeOf(FRAME), channels: 3, codes: encodeChannels(planes, space) };
});

function pieceOf(wanted: Region): CodePiece {
  const region = intersect(wanted, wholeOf(FRAME));
  const codes = new Uint16Array(region.width * region.height * 3);
  for (let row = 0; row < region.height; row++) {
    const from = ((region.y + row) * FRAME.width + region.x) * 3;
    codes.set(whole.codes.subarray(from, from + region.width * 3), row * region.width * 3);
  }
  return { region, channels: 3, codes };
}

function prescribed(method: Method, amount: number, mask: Prescription['mask']['operations'] = []): Prescription {
  const empty = emptyPrescription();
  const recovery = {
    ...automaticRecovery(method, null, amount),
    blurSizePx: { value: 4, auto: false },
    ...(method === 'camera-shake' ? { path: CORNER } : {}),
    trialId: null,
  };
  return { ...empty, mask: { ...empty.mask, operations: mask }, recovery };
}

const render = (prescription: Prescription, tile: Region) =>
  renderTile(
    { frame: FRAME, space },
    prescription,
    pieceOf(grow(tile, reachOfPrescription(prescription))),
    tile,
    effort,
  );

const TILE = { x: 40, y: 30, width: 48, height: 40 };
const dab = { kind: 'stroke', mode: 'add', sizePx: 24, featherPercent: 50, points: [60, 48] } as const;

describe('rendering', () => {
  it.each(METHODS)('%s: amount 0 is the original exactly; the distance never falls as it rises', (method) => {
    const original = pieceOf(TILE).codes;
    expect(render(prescribed(method, 0), TILE).codes).toEqual(original);
    let last = 0;
    for (const amount of [20, 60, 100]) {
      const { codes } = render(prescribed(method, amount), TILE);
      let distance = 0;
      for (let i = 0; i < codes.length; i++) {
        distance += (srgbDecode(codes[i] / 65535) - srgbDecode(original[i] / 65535)) ** 2;
      }
      expect(distance).toBeGreaterThan(last);
      last = distance;
    }
  });

  it('untouched means untouched: outside the mask every code is the original’s', () => {
    const { codes, changed } = render(prescribed('missed-focus', 100, [dab]), TILE);
    const original = pieceOf(TILE).codes;
    expect(changed).toBe(true);
    let inside = 0;
    for (let y = 0; y < TILE.height; y++) {
      for (let x = 0; x < TILE.width; x++) {
        const far = Math.hypot(x + TILE.x - 60, y + TILE.y - 48) > 13;
        const i = (y * TILE.width + x) * 3;
        if (far) expect(codes.slice(i, i + 3)).toEqual(original.slice(i, i + 3));
        else if (codes[i] !== original[i]) inside++;
      }
    }
    expect(inside).toBeGreaterThan(100);
  });

  it('outside of a computed area every code is the original’s, inside it is recovered', () => {
    const coverage = createPlane(75, 55);
    for (let i = 0; i < coverage.data.length; i++) {
      coverage.data[i] = Math.hypot((i % 75) - 32, Math.floor(i / 75) - 25) < 7 ? 1 : 0;
    }
    const area = areaOperation(coverage, FRAME, 'add', { kind: 'subject', dabs: [] });
    const { codes } = render(prescribed('missed-focus', 100, [area]), TILE);
    const original = pieceOf(TILE).codes;
    let changed = 0;
    for (let y = 0; y < TILE.height; y++) {
      for (let x = 0; x < TILE.width; x++) {
        const far = Math.hypot((x + TILE.x) / 2 - 32.25, (y + TILE.y) / 2 - 25.25);
        const i = (y * TILE.width + x) * 3;
        const isSame = [0, 1, 2].every((c) => codes[i + c] === original[i + c]);
        if (far > 9) expect(isSame).toBe(true);
        if (far < 5 && !isSame) changed++;
      }
    }
    expect(changed).toBeGreaterThan(150);
    expect(tilesToRender(prescribed('missed-focus', 100, [area]), { width: 2000, height: 1500 })).toHaveLength(1);
  });

  it('only tiles that the mask touches are rendered', () => {
    const large = { width: 2000, height: 1500 };
    expect(tilesToRender(prescribed('missed-focus', 100, [dab]), large)).toEqual([
      { x: 0, y: 0, width: TILE_PX, height: TILE_PX },
    ]);
    expect(tilesToRender(prescribed('missed-focus', 0, [dab]), large)).toEqual([]);
    const all = Math.ceil(2000 / TILE_PX) * Math.ceil(1500 / TILE_PX);
    expect(tilesToRender(prescribed('missed-focus', 100), large)).toHaveLength(all);
    expect(tilesToRender({ ...emptyPrescription(), cleaning: automaticCleaning(null) }, large)).toHaveLength(all);
  });

  it('the grid covers a region without gaps or overlaps', () => {
    const tiles = tilesTouching({ x: 100, y: 500, width: 900, height: 600 }, { width: 1300, height: 900 }, 512);
    expect(tiles.reduce((sum, { width, height }) => sum + width * height, 0)).toBe(1024 * 900);
    expect(tiles.every(({ x, y }) => x % 512 === 0 && y % 512 === 0)).toBe(true);
  });

  it.each(['missed-focus', 'straight-movement'] as const)(
    '%s: a tile agrees with the whole within 1/255, rms 1/2000',
    (method) => {
      const all = render(prescribed(method, 100), wholeOf(FRAME)).codes;
      const { codes } = render(prescribed(method, 100), TILE);
      let worst = 0;
      let squares = 0;
      for (let y = 0; y < TILE.height; y++) {
        for (let i = 0; i < TILE.width * 3; i++) {
          const a = codes[y * TILE.width * 3 + i];
          const b = all[((y + TILE.y) * FRAME.width + TILE.x) * 3 + i];
          worst = Math.max(worst, Math.abs(a - b) / 65535);
          squares += ((a - b) / 65535) ** 2;
        }
      }
      expect(worst).toBeLessThan(1 / 255);
      expect(Math.sqrt(squares / codes.length)).toBeLessThan(1 / 2000);
    },
  );

  it('edge contrast and cleaning look a finite way: a tile is the whole within one code', () => {
    const plans = [prescribed('edge-contrast', 100), { ...emptyPrescription(), cleaning: automaticCleaning(null) }];
    for (const plan of plans) {
      const all = render(plan, wholeOf(FRAME)).codes;
      const { codes } = render(plan, TILE);
      let worst = 0;
      for (let y = 0; y < TILE.height; y++) {
        for (let i = 0; i < TILE.width * 3; i++) {
          const b = all[((y + TILE.y) * FRAME.width + TILE.x) * 3 + i];
          worst = Math.max(worst, Math.abs(codes[y * TILE.width * 3 + i] - b));
        }
      }
      expect(worst).toBeLessThanOrEqual(1);
    }
  });

  it('grain kept adds the original’s grain back', () => {
    const plain = prescribed('missed-focus', 100);
    const noise = [0, 0, 0].map(() => ({ a: 0, b: 1.6e-5 }));
    const reading = { noise, noiseFloor: [1.6e-5, 1.6e-5, 1.6e-5] } as unknown as NonNullable<Prescription['reading']>;
    const grainy = {
      ...plain,
      reading: { ...reading, auto: false, method: null, sizes: [], measured: {} } as unknown as NonNullable<
        Prescription['reading']
      >,
      recovery: { ...plain.recovery!, grainKeptPercent: { value: 100, auto: false } },
    };
    const without = { ...grainy, recovery: plain.recovery };
    expect(render(grainy, TILE).codes).not.toEqual(render(without, TILE).codes);
  });
});
