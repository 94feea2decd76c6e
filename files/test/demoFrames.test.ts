import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  centreBox,
  acceptReading,
  automaticRecovery,
  emptyPrescription,
  FINAL_EFFORT,
  wholeOf,
  type CodePiece,
  type Region,
} from '@vitrocept/core';
import { nodeKernels, pieceOf, readGreyPlane, readPicture, renderPicture, takeFileReading } from '../src';

/** Demo frames with their truths and masks: everything Automatic, amount 100. PSNR on sRGB-encoded luma (BT.709 weights). */
const DEMO = new URL('../../demo/', import.meta.url).pathname;
const list = JSON.parse(readFileSync(join(DEMO, 'frames.json'), 'utf8')) as {
  file: string;
  truth: string;
  mask: string;
  eye: [number, number];
}[];

const luma = ({ codes }: CodePiece, i: number) =>
  (0.2126 * codes[3 * i] + 0.7152 * codes[3 * i + 1] + 0.0722 * codes[3 * i + 2]) / 65535;

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

async function recovered(number: string) {
  const entry = list.find(({ file }) => file.includes(number))!;
  const picture = await readPicture(join(DEMO, entry.file));
  const truth = await readPicture(join(DEMO, entry.truth));
  const mask = await readGreyPlane(join(DEMO, entry.mask), 'mask');
  const reading = takeFileReading(picture, centreBox(picture), mask, await nodeKernels());
  const accepted = acceptReading(reading, { kind: 'mask', key: '' });
  const plan = {
    ...emptyPrescription(),
    reading: accepted,
    recovery: { ...automaticRecovery(accepted.method!, accepted, 100), trialId: null },
  };
  const codes = renderPicture(picture, plan, { mask }, { ...FINAL_EFFORT, kernels: await nodeKernels() });
  const whole: Region = wholeOf(picture);
  const [before, after, true_] = [
    pieceOf(picture, whole),
    { region: whole, channels: 3 as const, codes },
    pieceOf(truth, whole),
  ];
  const [ex, ey] = entry.eye;
  const nearEye = (i: number) =>
    Math.abs((i % picture.width) - ex + 0.5) < 60 && Math.abs(Math.floor(i / picture.width) - ey + 0.5) < 60;
  const inMask = (i: number) => mask.data[i] > 0.5;
  const gain = (counts: (i: number) => boolean) => psnr(after, true_, counts) - psnr(before, true_, counts);
  return { method: accepted.method, reading, eye: gain(nearEye), subject: gain(inMask) };
}

/** What the frames are said to suffer from, over their masks. */
async function causeOf(number: string) {
  const { file, mask } = list.find((frame) => frame.file.includes(number))!;
  const picture = await readPicture(join(DEMO, file));
  const plane = await readGreyPlane(join(DEMO, mask), 'mask');
  return takeFileReading(picture, centreBox(picture), plane, await nodeKernels()).cause;
}

describe('demo frames, everything Automatic', () => {
  it('0411, focus right, most of the head beyond the depth of field: nothing to recover', async () => {
    expect(await causeOf('0411')).toBeNull();
  }, 60_000);

  it('0536, camera shake: named', async () => {
    expect((await causeOf('0536'))?.method).toBe('camera-shake');
  }, 60_000);

  it('0803, camera shake: its path brings back at least 2 dB round the eye and 4 dB over the mask', async () => {
    const { reading, eye, subject } = await recovered('0803');
    expect(reading.cause?.method).toBe('camera-shake');
    // The true arc is 11 px long.
    expect(Math.abs(reading.cause!.blurSizePx - 11)).toBeLessThan(3);
    expect(eye).toBeGreaterThan(2);
    expect(subject).toBeGreaterThan(4);
  });

  it.each([
    ['0412', 'in front of'],
    ['0413', 'behind'],
  ])('%s, focus %s the subject: at least 1.5 dB round the eye, nothing lost over the mask', async (number) => {
    const { method, eye, subject } = await recovered(number);
    expect(method).toBe('missed-focus');
    expect(eye).toBeGreaterThan(1.5);
    expect(subject).toBeGreaterThan(0);
  });

  it('0415, the animal moved: at least 1 dB round the eye, nothing lost over the mask', async () => {
    const { reading, eye, subject } = await recovered('0415');
    expect(reading.cause?.method).toBe('straight-movement');
    // The true movement is 11.87 px at 149.1° (vector 10.18, 6.09 with y down).
    expect(Math.abs(reading.cause!.blurSizePx - 11.87)).toBeLessThan(0.5);
    expect(Math.abs(reading.cause!.directionDeg - 149.1)).toBeLessThan(1.5);
    expect(eye).toBeGreaterThan(1);
    expect(subject).toBeGreaterThan(0);
  });
});
