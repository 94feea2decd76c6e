import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  acceptReading,
  automaticRecovery,
  centreBox,
  emptyPrescription,
  FINAL_EFFORT,
  grow,
  reachOfPrescription,
  renderTile,
  tilesTouching,
  wholeOf,
  type AcceptedReading,
  type CodePiece,
  type Plane,
  type Prescription,
  type Region,
  REC709_WEIGHTS,
} from '@vitrocept/core';
import {
  nodeKernels,
  pieceOf,
  placeTile,
  readGreyPlane,
  readPicture,
  takeFileReading,
  type DecodedPicture,
} from '@vitrocept/files';

/**
 * Demo frames with their truths and masks: everything Automatic, amount 100. PSNR on sRGB-encoded luma (BT.709
 * weights).
 */
export const DEMO = new URL('../../demo/', import.meta.url).pathname;

export interface DemoFrame {
  readonly file: string;
  readonly truth: string;
  readonly mask: string;
  readonly eye: readonly [number, number];
}

export const DEMO_FRAMES = JSON.parse(readFileSync(join(DEMO, 'frames.json'), 'utf8')) as readonly DemoFrame[];

export const numberOf = ({ file }: DemoFrame): string => /saltmere-(\d+)/.exec(file)![1];

export async function opened({ file, truth, mask }: DemoFrame) {
  return {
    picture: await readPicture(join(DEMO, file)),
    truth: await readPicture(join(DEMO, truth)),
    mask: await readGreyPlane(join(DEMO, mask), 'mask'),
  };
}

/** What is read of a frame over its mask, accepted as it is. */
export async function readDemo(picture: DecodedPicture, mask: Plane): Promise<AcceptedReading> {
  const reading = takeFileReading(picture, centreBox(picture), mask, await nodeKernels());
  return acceptReading(reading, { kind: 'mask', key: '' });
}

/** Everything Automatic, amount 100; null where nothing is to be recovered. */
export function planOf(reading: AcceptedReading): Prescription | null {
  if (!reading.method) return null;
  const recovery = { ...automaticRecovery(reading.method, reading, 100), trialId: null };
  return { ...emptyPrescription(), reading, recovery };
}

/** The codes of a whole frame, recovered in the tiles that `area` touches. */
export async function recoveredOver(
  picture: DecodedPicture,
  plan: Prescription,
  mask: Plane,
  area: Region,
): Promise<CodePiece> {
  const out = pieceOf(picture, wholeOf(picture));
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels() };
  for (const tile of tilesTouching(area, picture)) {
    const piece = pieceOf(picture, grow(tile, reachOfPrescription(plan)));
    const source = { frame: picture, space: picture.space, mask };
    const { codes, changed } = renderTile(source, plan, piece, tile, effort);
    if (changed) placeTile(out.codes, picture, tile, codes);
  }
  return out;
}

const EYE_REACH = 60;

export const eyeRegion = ({ eye: [x, y] }: DemoFrame): Region => ({
  x: Math.floor(x) - EYE_REACH,
  y: Math.floor(y) - EYE_REACH,
  width: 2 * EYE_REACH,
  height: 2 * EYE_REACH,
});

const luma = ({ codes }: CodePiece, i: number) =>
  REC709_WEIGHTS.reduce((sum, weight, c) => sum + weight * codes[3 * i + c], 0) / 65535;

function psnr(a: CodePiece, truth: CodePiece, counts: (i: number) => boolean): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < a.codes.length / 3; i++) {
    if (!counts(i)) continue;
    sum += (luma(a, i) - luma(truth, i)) ** 2;
    count++;
  }
  return 10 * Math.log10(count / sum);
}

/** Change in dB against the frame as taken. */
export function gainsOf(
  frame: DemoFrame,
  { picture, truth, mask }: { picture: DecodedPicture; truth: DecodedPicture; mask: Plane },
  after: CodePiece,
): { readonly eye: number; readonly subject: number } {
  const whole = wholeOf(picture);
  const [before, right] = [pieceOf(picture, whole), pieceOf(truth, whole)];
  const [ex, ey] = frame.eye;
  const nearEye = (i: number) =>
    Math.abs((i % picture.width) - ex + 0.5) < EYE_REACH &&
    Math.abs(Math.floor(i / picture.width) - ey + 0.5) < EYE_REACH;
  const gain = (counts: (i: number) => boolean) => psnr(after, right, counts) - psnr(before, right, counts);
  return { eye: gain(nearEye), subject: gain((i) => mask.data[i] > 0.5) };
}
