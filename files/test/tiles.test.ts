import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import {
  automaticRecovery,
  blurred,
  cropPlane,
  decodePiece,
  emptyPrescription,
  encodeChannels,
  exposed,
  FINAL_EFFORT,
  MID_TONE,
  pathPsf,
  psfOf,
  reachOf,
  renderTile,
  seededRandom,
  shakePath,
  wholeOf,
  type BlurMethod,
  type Kernels,
  type Plane,
  type Prescription,
  type Psf,
} from '@vitrocept/core';
import { nodeKernels, pieceOf, readPicture, type DecodedPicture } from '../src';

/**
 * Every final pixel comes from a tile that sees only its surroundings. It must agree with the whole frame within 1/255
 * of full scale at worst and 1/2000 rms. On real fur, with paths and movements as long as people bring.
 */
const DEMO = new URL('../../demo/', import.meta.url).pathname;
const SIDE = 720;
const BORDER = 24;
const TILE = { x: 256, y: 256, width: 256, height: 256 };
const PATH_31 = pathPsf(shakePath(seededRandom(7), 30));

let scene: Plane[];
let truth: DecodedPicture;
let kernels: Kernels;

beforeAll(async () => {
  kernels = await nodeKernels();
  truth = await readPicture(join(DEMO, 'truth', 'marten.jpg'));
  const cut = { x: 400, y: 150, width: SIDE + 2 * BORDER, height: SIDE + 2 * BORDER };
  scene = decodePiece(pieceOf(truth, wholeOf(truth)), wholeOf(truth), truth.space).map((plane) =>
    cropPlane(plane, cut),
  );
});

/** The scene photographed with that blur and noise, and the prescription of somebody who knows both. */
function soft(method: BlurMethod, sizePx: number, directionDeg: number, noisePercent: number, path?: Psf) {
  const variance = (noisePercent / 100) ** 2;
  const noise = [0, 1, 2].map(() => ({ a: (0.9 * variance) / MID_TONE, b: 0.1 * variance }));
  const size = { value: sizePx, auto: false };
  const recovery = {
    ...automaticRecovery(method, null, 100),
    blurSizePx: size,
    directionDeg: { ...size, value: directionDeg },
    trialId: null,
  };
  const psf = path ?? psfOf(recoverySettings(recovery));
  const channels = exposed(blurred(scene, psf, BORDER), noise, seededRandom(5));
  const plan = {
    ...emptyPrescription(),
    reading: { noise, noiseFloor: [variance, variance, variance], sizes: [], auto: false, measured: {} },
    recovery,
  } as unknown as Prescription;
  const picture: DecodedPicture = {
    ...truth,
    width: SIDE,
    height: SIDE,
    bits: 16,
    samples: encodeChannels(channels, truth.space),
  };
  return { picture, plan, psf };
}

const recoverySettings = ({
  method,
  blurSizePx,
  directionDeg,
  path,
  blades,
  bladesDeg,
}: NonNullable<Prescription['recovery']>) => ({
  method,
  blurSizePx: blurSizePx.value,
  directionDeg: directionDeg.value,
  path,
  blades,
  bladesDeg,
});

describe('a tile against the whole frame', () => {
  it.each([
    ['a path of 31 px at 1 % noise', soft.bind(null, 'camera-shake', 31, 0, 1, PATH_31)],
    ['a path of 31 px at 0.4 % noise', soft.bind(null, 'camera-shake', 31, 0, 0.4, PATH_31)],
    ['a movement of 16 px at 1 % noise', soft.bind(null, 'straight-movement', 16, 110, 1, undefined)],
  ])('%s: within 1/255, rms 1/2000', (_, photograph) => {
    const { picture, plan, psf } = photograph();
    const source = { frame: picture, space: truth.space, ...(psf === PATH_31 ? { psf } : {}) };
    const piece = pieceOf(picture, wholeOf(picture));
    const effort = { ...FINAL_EFFORT, kernels };
    const whole = renderTile(source, plan, piece, wholeOf(picture), effort).codes;
    const tile = renderTile(source, plan, piece, TILE, effort).codes;
    let worst = 0;
    let squares = 0;
    let change = 0;
    for (let i = 0; i < tile.length; i++) {
      const row = Math.floor(i / (3 * TILE.width));
      const j = ((row + TILE.y) * SIDE + TILE.x) * 3 + (i % (3 * TILE.width));
      const difference = (tile[i] - whole[j]) / 65535;
      worst = Math.max(worst, Math.abs(difference));
      squares += difference * difference;
      change += Math.abs(whole[j] - piece.codes[j]) / 65535;
    }
    expect(worst * 255).toBeLessThan(1);
    expect(Math.sqrt(squares / tile.length) * 2000).toBeLessThan(1);
    // Something was recovered at all, and the tile saw less than the whole.
    expect(change / tile.length).toBeGreaterThan(1 / 255);
    expect(worst).toBeGreaterThan(0);
  });

  it('the path is as long as it says', () => {
    expect(2 * reachOf(PATH_31) + 1).toBeGreaterThanOrEqual(31);
  });
});
