import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import {
  acceptReading,
  auditTile,
  auditVersion,
  automaticCleaning,
  automaticRecovery,
  boundsOfMask,
  cleanTile,
  colourSpaceOf,
  DRAFT_EFFORT,
  emptyPrescription,
  encodeChannels,
  encodeTile,
  FINAL_EFFORT,
  filledPlane,
  grow,
  makeArea,
  renderTile,
  passThrough,
  regionNeeded,
  tilesToRender,
  VERSION_MARGIN,
  wholeOf,
  type CodePiece,
  type Kernels,
  type MaskOperation,
  type Method,
  type Prescription,
  type Reading,
} from '@vitrocept/core';
import { LOPSIDED, convolve, deadLeaves, withNoise } from '../../core/test/synthetic';
import { nodeKernels, pieceOf, renderPicture, type DecodedPicture } from '../src';

/**
 * Pixels and audits, held to the bit against what an earlier Vitrocept made of the same prescriptions: whatever
 * is rebuilt around them, what somebody saved must come out as it did. `WRITE_AS_BEFORE=1` writes them anew; say in
 * docs/decisions.md what changed and why.
 */
const STORED = new URL('../golden/asBefore.json', import.meta.url);
const isWriting = process.env.WRITE_AS_BEFORE === '1';
/** As it was kept in a prescription then: what is read today may differ, what is rendered from it may not. */
const reading = JSON.parse(readFileSync(new URL('../golden/asBeforeReading.json', import.meta.url), 'utf8')) as Reading;
const stored = (isWriting ? {} : JSON.parse(readFileSync(STORED, 'utf8'))) as Record<string, string>;

const FRAME = { width: 330, height: 290 };
const TILE = { x: 0, y: 0, width: 256, height: 256 };
const space = colourSpaceOf(null, 3);
const source = { frame: FRAME, space };
let kernels: Kernels;
let photograph: ReturnType<typeof withNoise>[];
let picture: DecodedPicture;

beforeAll(async () => {
  kernels = await nodeKernels();
  photograph = [1, 0.85, 0.7].map((share, c) => {
    const leaves = deadLeaves(FRAME.width, FRAME.height, 11, 2.5);
    const scene = { ...leaves, data: leaves.data.map((value) => Math.min(1, 1.35 * share * value)) };
    return withNoise(convolve(scene, LOPSIDED), 0.006, 20 + c);
  });
  picture = { ...FRAME, channels: 3, bits: 16, samples: encodeChannels(photograph, space), space } as DecodedPicture;
});

/** Everything in it that is a number or a text, in order, samples by their bits. */
function hashOf(value: unknown): string {
  const hash = createHash('sha256');
  const take = (part: unknown): void => {
    if (ArrayBuffer.isView(part)) {
      hash.update(`[${part.constructor.name} ${part.byteLength}]`);
      hash.update(new Uint8Array(part.buffer, part.byteOffset, part.byteLength));
    } else if (Array.isArray(part)) {
      hash.update(`[${part.length}`);
      part.forEach(take);
    } else if (part !== null && typeof part === 'object') {
      for (const key of Object.keys(part).sort()) {
        const own = (part as Record<string, unknown>)[key];
        if (own === undefined) continue;
        hash.update(`{${key}:`);
        take(own);
      }
    } else hash.update(`${typeof part}:${String(part)};`);
  };
  take(value);
  return hash.digest('hex').slice(0, 24);
}

const written: Record<string, string> = {};

function holds(name: string, value: unknown): void {
  const hash = hashOf(value);
  written[name] = hash;
  if (isWriting) writeFileSync(STORED, `${JSON.stringify(written, null, 2)}\n`);
  else expect(hash, name).toBe(stored[name]);
}

const piece = (margin: number): CodePiece => pieceOf(picture, grow(TILE, margin));
const effort = () => ({ ...FINAL_EFFORT, kernels });
const dab: MaskOperation = {
  kind: 'stroke',
  mode: 'add',
  sizePx: 120,
  featherPercent: 40,
  points: [90, 80, 150, 130],
};
const PATH = {
  side: 5,
  lengthPx: 4.5,
  values: [0, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1, 3, 0, 0, 0, 0, 0, 0],
};
const PLACED = {
  ...PATH,
  places: [
    { ...PATH, x: 60, y: 60 },
    { ...PATH, lengthPx: 6, x: 260, y: 60 },
    { ...PATH, lengthPx: 7, x: 60, y: 230 },
    { ...PATH, lengthPx: 5, x: 260, y: 230 },
  ],
};

const accepted = () => acceptReading(reading, { kind: 'mask', key: 'k' });

function recoveredBy(
  method: Method,
  change: Partial<NonNullable<Prescription['recovery']>> = {},
  operations: readonly MaskOperation[] = [dab],
): Prescription {
  const empty = emptyPrescription();
  const read = accepted();
  return {
    ...empty,
    reading: read,
    mask: { ...empty.mask, operations },
    recovery: {
      ...automaticRecovery(method, read, 70),
      learnedTexture: false,
      blurSizePx: { value: 4, auto: false },
      ...(method === 'camera-shake' ? { path: PATH } : {}),
      ...change,
      trialId: null,
    },
  };
}

const withPlaces = (): Prescription => {
  const plan = recoveredBy('missed-focus', { blurSizePx: { value: 5, auto: true } }, []);
  const sizes = [
    { x: 50, y: 60, blurSizePx: 2 },
    { x: 200, y: 90, blurSizePx: 6.5 },
    { x: 120, y: 240, blurSizePx: 4 },
  ];
  return { ...plan, reading: { ...plan.reading!, method: 'missed-focus', auto: true, sizes } };
};

const severalMasks = (): Prescription => {
  const plan = recoveredBy('missed-focus');
  const other = (method: Method, opacityPercent: number, operations: readonly MaskOperation[]) => ({
    mask: { id: method, name: method, opacityPercent, operations },
    trials: [],
    recovery: recoveredBy(method, { amount: { value: 90, auto: false } }).recovery,
  });
  return {
    ...plan,
    cleaning: automaticCleaning(plan.reading),
    masksBelow: [other('ordinary-softness', 60, [{ kind: 'fill' }])],
    masksAbove: [
      other('edge-contrast', 80, [
        { kind: 'radial', mode: 'add', x: 160, y: 120, rx: 60, ry: 40, featherPercent: 50 },
        { kind: 'invert' },
      ]),
    ],
  };
};

const PLANS: Record<string, () => Prescription> = {
  'ordinary softness': () => recoveredBy('ordinary-softness'),
  'missed focus': () => recoveredBy('missed-focus', { haloLimitPercent: 20 }),
  'missed focus of six blades': () => recoveredBy('missed-focus', { blades: 6, bladesDeg: 11 }),
  'straight movement': () => recoveredBy('straight-movement', { directionDeg: { value: 33, auto: false } }),
  'camera shake': () => recoveredBy('camera-shake'),
  'camera shake that turned': () => recoveredBy('camera-shake', { path: PLACED }, []),
  'edge contrast': () => recoveredBy('edge-contrast'),
  'fine texture': () => recoveredBy('fine-texture'),
  'grain kept, guard by hand': () =>
    recoveredBy('missed-focus', {
      grainKeptPercent: { value: 40, auto: false },
      noiseGuard: { value: 61, auto: false },
    }),
  'sizes by place': withPlaces,
  'several masks over a cleaned frame': severalMasks,
  'cleaned and recovered': () => {
    const plan = recoveredBy('missed-focus', {}, []);
    return { ...plan, cleaning: automaticCleaning(plan.reading) };
  },
  'cleaned in a band under the mask': () => {
    const plan = { ...recoveredBy('missed-focus'), recovery: null };
    const cleaning = automaticCleaning(plan.reading);
    return { ...plan, cleaning: { ...cleaning, band: [0.1, 0.2, 0.6, 0.8] as const, maskId: plan.mask.id } };
  },
};

describe('what was saved comes out as before', () => {
  it.each(Object.keys(PLANS))('%s: pixels and audit', (name) => {
    const plan = PLANS[name]();
    const seen = pieceOf(picture, regionNeeded(source, plan, TILE, effort()));
    const { codes, changed } = renderTile(source, plan, seen, TILE, effort());
    expect(changed).toBe(true);
    holds(`${name}: pixels`, codes);
    const passed = passThrough(source, plan, seen, TILE, effort())!;
    expect(encodeTile(source, seen, TILE, passed).codes).toEqual(codes);
    if (plan.recovery) {
      holds(`${name}: audit`, auditTile(source, plan, seen, TILE, passed.solved!, 16, effort()));
    }
  });

  it('a draft', () => {
    const plan = recoveredBy('camera-shake');
    const drafty = { ...DRAFT_EFFORT, kernels };
    const cell = { x: 70, y: 60, width: 128, height: 128 };
    const { codes } = renderTile(source, plan, pieceOf(picture, grow(cell, 200)), cell, drafty);
    holds('draft', codes);
  });

  it('a frame as cleaned, and what the cleaning took', () => {
    const plan = { ...recoveredBy('missed-focus'), recovery: null };
    holds(
      'clean tile',
      cleanTile(source, { ...plan, cleaning: automaticCleaning(plan.reading) }, piece(80), TILE, kernels),
    );
  });

  it('an outside version', () => {
    const version: CodePiece = { ...piece(VERSION_MARGIN) };
    const plan = recoveredBy('edge-contrast', {}, []);
    const made = renderTile(source, plan, piece(120), wholeOf(FRAME), effort()).codes;
    const whole: CodePiece = { region: wholeOf(FRAME), channels: 3, codes: made };
    const covered = filledPlane(TILE.width + 2 * VERSION_MARGIN, TILE.height + 2 * VERSION_MARGIN, 1);
    holds('version', auditVersion(source, plan.reading, version, whole, TILE, covered, 16, effort()));
  });

  it('a whole picture, and the tiles that are rendered', () => {
    holds('whole picture', renderPicture(picture, severalMasks(), {}, effort()).codes);
    holds('tiles to render', tilesToRender(recoveredBy('missed-focus'), { width: 2000, height: 1500 }));
  });

  it('a subject', () => {
    holds('subject', makeArea(photograph, FRAME, { kind: 'subject', dabs: [] }));
    holds('bounds', boundsOfMask([dab], FRAME));
  });
});
