import { mkdtempSync, rmSync } from 'node:fs';
import { loadavg, tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  acceptReading,
  automaticRecovery,
  blurredTurning,
  emptyPrescription,
  exposed,
  FINAL_EFFORT,
  inner,
  psfOfTurning,
  seededRandom,
  storePath,
  turningPath,
  wholeOf,
  withoutPlaces,
  type Kernels,
  type Moment,
  type Plane,
  type Reading,
  type Size,
  type StoredPath,
} from '@vitrocept/core';
import { nodeKernels, readPicture, renderPicture, takeFileReading, type DecodedPicture } from '@vitrocept/files';
import { noiseLine } from './cases';
import { readEncoded, writePicture } from './caseFiles';
import { psnr } from '@vitrocept/core';
import { fetchPictures, loadScene, SCENES, type SceneSource } from './pictures';
import { moveBack, shiftBetween } from './registration';

const SIDE_PX = 1000;
const BORDER_PX = 40;
const NOISE_PERCENT = 0.5;
/** Places of the told paths, across and down. */
const TOLD_ACROSS = 4;

interface TurningCase {
  readonly scene: string;
  /** Place of the cut. */
  readonly x: number;
  readonly y: number;
  readonly seed: number;
  readonly extentPx: number;
  /** Whole range of what the turn carries a place 500 px from the middle, px; 0: the camera only moves. */
  readonly turnPx: number;
}

export const TURNING_CASES: readonly TurningCase[] = [
  { scene: 'marten', x: 490, y: 220, seed: 1, extentPx: 16, turnPx: 4 },
  { scene: 'marten back', x: 1080, y: 300, seed: 3, extentPx: 14, turnPx: 3 },
  { scene: 'weevil', x: 500, y: 200, seed: 5, extentPx: 14, turnPx: 4 },
  { scene: 'puppet face', x: 460, y: 100, seed: 2, extentPx: 16, turnPx: 4 },
  { scene: 'puppet face', x: 460, y: 100, seed: 8, extentPx: 14, turnPx: 2 },
  { scene: 'seed heads', x: 300, y: 0, seed: 4, extentPx: 12, turnPx: 4 },
  { scene: 'ladybird', x: 200, y: 0, seed: 9, extentPx: 18, turnPx: 6 },
  { scene: 'sunflower', x: 200, y: 0, seed: 11, extentPx: 12, turnPx: 1.5 },
  { scene: 'marten', x: 490, y: 220, seed: 1, extentPx: 16, turnPx: 0 },
  { scene: 'weevil', x: 500, y: 200, seed: 7, extentPx: 12, turnPx: 0 },
];

/** Cameras that turned while they moved: told one path, told it place by place, and with nothing told. */
export async function turning(pattern: RegExp | null): Promise<void> {
  fetchPictures();
  const kernels = await nodeKernels();
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-turning-'));
  console.log(`PSNR in dB, ${SIDE_PX} px, ${NOISE_PERCENT} % noise; load ${loadavg()[0].toFixed(1)}`);
  console.log('scene, path px, turn px | input | told one path | told by place | found | read as | CPU s');
  for (const one of TURNING_CASES) {
    if (pattern && !pattern.test(one.scene)) continue;
    const { moments, file, truthFile } = await turningCase(one, folder);
    const truth = await readEncoded(truthFile);
    const picture = await readPicture(file);
    const started = process.cpuUsage().user;
    const reading = takeFileReading(picture, wholeOf(picture), null, kernels);
    const seconds = (process.cpuUsage().user - started) / 1e6;
    const told = toldPaths(moments, picture);
    const middle = psfOfTurning(moments, 0, 0);
    const toldReading = takeFileReading(picture, wholeOf(picture), null, kernels, { psf: middle });
    const score = (planes: readonly Plane[]) => {
      const shift = shiftBetween(planes, truth);
      return psnr(
        planes.map((plane) => moveBack(plane, shift)),
        truth,
      ).toFixed(2);
    };
    const recovered = (from: Reading, path: StoredPath | undefined) =>
      path ? score(recoveredWith(picture, from, path, kernels)) : 'left alone';
    const found = reading.cause?.path;
    console.log(
      [
        `${one.scene}, ${one.extentPx}, ${one.turnPx}`,
        score(await readEncoded(file)),
        recovered(toldReading, withoutPlaces(told)),
        recovered(toldReading, told),
        recovered(reading, found),
        reading.cause ? `${reading.cause.method}${found?.places ? `, ${found.places.length} places` : ''}` : 'sharp',
        seconds.toFixed(1),
      ].join(' | '),
    );
  }
  rmSync(folder, { recursive: true });
}

/** Photographs a case and writes it and its truth beside each other. */
export async function turningCase({ scene, x, y, seed, extentPx, turnPx }: TurningCase, folder: string) {
  const source: SceneSource = { ...SCENES.find(({ name }) => name === scene)!, x, y };
  const sharp = await loadScene(source, SIDE_PX + 2 * BORDER_PX);
  const random = seededRandom(seed);
  const moments = turningPath(random, extentPx, turnPx / 500);
  const line = noiseLine(NOISE_PERCENT);
  const file = join(folder, `${scene} ${seed} ${turnPx}.png`);
  await writePicture(exposed(blurredTurning(sharp, moments, BORDER_PX), [line, line, line], random), file, null);
  const truthFile = join(folder, `${scene} truth.png`);
  await writePicture(
    sharp.map((plane) => inner(plane, BORDER_PX)),
    truthFile,
    null,
  );
  return { moments, file, truthFile };
}

function toldPaths(moments: readonly Moment[], { width, height }: Size): StoredPath {
  const places = Array.from({ length: TOLD_ACROSS ** 2 }, (_, i) => {
    const x = Math.round((((i % TOLD_ACROSS) + 0.5) * width) / TOLD_ACROSS);
    const y = Math.round(((Math.floor(i / TOLD_ACROSS) + 0.5) * height) / TOLD_ACROSS);
    return { x, y, ...storePath(psfOfTurning(moments, x - width / 2, y - height / 2)) };
  });
  return { ...storePath(psfOfTurning(moments, 0, 0)), places };
}

/** Everything Automatic at full amount along this path. */
function recoveredWith(picture: DecodedPicture, reading: Reading, path: StoredPath, kernels: Kernels): Plane[] {
  const cause = { method: 'camera-shake' as const, blurSizePx: path.lengthPx, directionDeg: 0, path };
  const accepted = acceptReading({ ...reading, cause, pile: 'soft' }, { kind: 'centre', key: '' });
  const recovery = { ...automaticRecovery('camera-shake', accepted, 100), trialId: null };
  const { codes } = renderPicture(
    picture,
    { ...emptyPrescription(), reading: accepted, recovery },
    {},
    { ...FINAL_EFFORT, kernels },
  );
  const { width, height } = picture;
  return [0, 1, 2].map((c) => ({
    width,
    height,
    data: Float32Array.from({ length: width * height }, (_, i) => codes[3 * i + c] / 65535),
  }));
}
