import { join } from 'node:path';
import sharp from 'sharp';
import {
  blurred,
  discPsf,
  exposed,
  gaussianPsf,
  HAND_PATHS,
  handPath,
  linePsf,
  MID_TONE,
  pathPsf,
  practiceNeutral,
  PRACTICE_SENSOR,
  reachOf,
  RGGB,
  seededRandom,
  srgbDecode,
  srgbEncode,
  throughSensor,
  type NoiseLine,
  type Plane,
  type Psf,
} from '@vitrocept/core';
import { parseExif } from './exif';
import { writeDng } from './raw/writeDng';

type Fault = 'none' | 'missed-focus' | 'softness' | 'movement' | 'shake';

/** A photograph that the practice camera takes of a known scene: the same for ever, told by its number. */
export interface PracticeFrame {
  readonly name: string;
  readonly scene: string;
  /** Upper left corner in the scene, px. */
  readonly x: number;
  readonly y: number;
  readonly fault: Fault;
  /** Across, px. */
  readonly blurPx: number;
  readonly iso: number;
  readonly seed: number;
  /** A DNG with the sensor's mosaic in place of a JPEG. */
  readonly isMosaic?: boolean;
}

const SIZE = { width: 840, height: 560 };
const QUALITY = 93;
/** Parts of the demo's truths with the subject in them, by their middle, px. */
const SCENES = [
  { scene: 'marten.jpg', x: 744, y: 575, roomX: 120, roomY: 90 },
  { scene: 'beetle.jpg', x: 998, y: 712, roomX: 140, roomY: 80 },
  { scene: 'puppet.jpg', x: 959, y: 520, roomX: 110, roomY: 70 },
  { scene: 'card.jpg', x: 800, y: 480, roomX: 40, roomY: 30 },
] as const;
/** How many of each, with the range of sizes and of ISO they are drawn from. */
const FAULTS: readonly { fault: Fault; count: number; blur: [number, number]; iso: readonly number[] }[] = [
  { fault: 'none', count: 6, blur: [0, 0], iso: [100, 200, 400] },
  { fault: 'none', count: 5, blur: [0, 0], iso: [12800, 25600] },
  { fault: 'missed-focus', count: 10, blur: [3, 13], iso: [200, 400, 1600, 6400] },
  { fault: 'movement', count: 6, blur: [5, 20], iso: [400, 1600, 6400] },
  { fault: 'shake', count: 6, blur: [8, 24], iso: [400, 1600, 3200] },
  { fault: 'softness', count: 4, blur: [2, 5], iso: [200, 800] },
  { fault: 'missed-focus', count: 3, blur: [56, 72], iso: [12800, 25600] },
];
const FIRST_NUMBER = 1001;
/** Noise at mid-tone at ISO 100, of clipping; it grows with the root of the ISO. */
const NOISE_AT_100 = 0.0015;
/** Of it so much does not hang on light. */
const READ_SHARE = 0.1;
const SPREAD_SEED = 26;

/** Forty frames in the order in which they would lie on a card, faults and scenes mixed, and one as a raw file. */
export function practiceFrames(): PracticeFrame[] {
  const random = seededRandom(SPREAD_SEED);
  const drawn = FAULTS.flatMap(({ fault, count, blur: [least, most], iso }) =>
    Array.from({ length: count }, (_, i) => {
      const { scene, x, y, roomX, roomY } = SCENES[Math.floor(random.uniform() * SCENES.length)];
      return {
        scene,
        x: Math.round(x - SIZE.width / 2 + roomX * (2 * random.uniform() - 1)),
        y: Math.round(y - SIZE.height / 2 + roomY * (2 * random.uniform() - 1)),
        fault,
        blurPx: least + (most - least) * random.uniform(),
        iso: iso[i % iso.length],
        order: random.uniform(),
      };
    }),
  );
  const taken = drawn
    .sort((a, b) => a.order - b.order)
    .map(({ order: _, ...frame }, i) => ({ ...frame, name: `saltmere-${FIRST_NUMBER + i}.jpg`, seed: i + 1 }));
  return [...taken, RAW_FRAME];
}

/** A marten focused in front of, as a raw file. */
const RAW_FRAME: PracticeFrame = {
  ...practiceFrameAt(0, { name: 'saltmere-1041.dng', fault: 'missed-focus', blurPx: 6, iso: 800, seed: 41 }),
  isMosaic: true,
};

/** A frame of the middle of one of the scenes. */
export function practiceFrameAt(scene: number, rest: Omit<PracticeFrame, 'scene' | 'x' | 'y'>): PracticeFrame {
  const { scene: file, x, y } = SCENES[scene];
  return { ...rest, scene: file, x: Math.round(x - SIZE.width / 2), y: Math.round(y - SIZE.height / 2) };
}

/** What the camera would have taken without fault and without noise, as a PNG: what results are graded by. */
export async function truthOfPracticeFrame(truths: string, frame: PracticeFrame): Promise<Buffer> {
  const psf = psfOf(frame);
  const border = psf ? reachOf(psf) : 0;
  const scene = sharp(join(truths, frame.scene));
  const seen = within(await scene.metadata(), frame, border);
  return scene
    .extract({
      left: seen.left + border,
      top: seen.top + border,
      width: seen.width - 2 * border,
      height: seen.height - 2 * border,
    })
    .removeAlpha()
    .png()
    .toBuffer();
}

/**
 * Takes the photograph: the scene in linear light, blurred, with noise of a sensor, as an sRGB JPEG or a DNG, with its exposure.
 *
 * @param truths - Folder of the sharp scenes.
 */
export async function takePracticeFrame(truths: string, frame: PracticeFrame): Promise<Buffer> {
  return frame.isMosaic ? mosaicOfScene(truths, frame) : jpegOfScene(truths, frame);
}

/** The scene in linear light as it falls on the sensor. */
async function seenThroughFault(truths: string, frame: PracticeFrame): Promise<Plane[]> {
  const psf = psfOf(frame);
  const border = psf ? reachOf(psf) : 0;
  const { data, info } = await sharp(join(truths, frame.scene))
    .extract(within(await sharp(join(truths, frame.scene)).metadata(), frame, border))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const scene = [0, 1, 2].map((c): Plane => {
    const plane = { width: info.width, height: info.height, data: new Float32Array(info.width * info.height) };
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = srgbDecode(data[3 * i + c] / 255);
    return plane;
  });
  return psf ? blurred(scene, psf, border) : scene;
}

async function jpegOfScene(truths: string, frame: PracticeFrame): Promise<Buffer> {
  const line = noiseAt(frame.iso);
  const taken = exposed(await seenThroughFault(truths, frame), [line, line, line], seededRandom(frame.seed));
  const [{ width, height }] = taken;
  const pixels = Buffer.alloc(width * height * 3);
  taken.forEach((plane, c) =>
    plane.data.forEach((value, i) => (pixels[3 * i + c] = Math.round(255 * srgbEncode(value)))),
  );
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: QUALITY, chromaSubsampling: '4:4:4' })
    .withExif(exposureOf(frame))
    .toBuffer();
}

/** A mosaic of 16 bits with the JPEG's own picture for a first look. */
async function mosaicOfScene(truths: string, frame: PracticeFrame): Promise<Buffer> {
  const scene = await seenThroughFault(truths, frame);
  const [{ width, height }] = scene;
  const jpeg = await jpegOfScene(truths, frame);
  const { colorMatrix, illuminant, black, white } = PRACTICE_SENSOR;
  return writeDng({
    width,
    height,
    samples: throughSensor(scene, RGGB, noiseAt(frame.iso), seededRandom(frame.seed)),
    pattern: RGGB,
    black,
    white,
    colour: { uniqueModel: 'Quorvane K2', colorMatrix, illuminant, asShotNeutral: practiceNeutral() },
    preview: { width, height, jpeg },
    directories: parseExif((await sharp(jpeg).metadata()).exif)!,
  });
}

function psfOf({ fault, blurPx, seed }: PracticeFrame): Psf | null {
  const random = seededRandom(1000 + seed);
  switch (fault) {
    case 'none':
      return null;
    case 'missed-focus':
      return discPsf(blurPx / 2);
    case 'softness':
      return gaussianPsf(blurPx / 2.355);
    case 'movement':
      return linePsf(blurPx, 180 * random.uniform());
    case 'shake':
      return pathPsf(handPath(HAND_PATHS[seed % HAND_PATHS.length], random, blurPx));
  }
}

/** The part of the scene that the sensor and what blurs into it see, moved so that the scene holds it. */
function within(scene: { width?: number; height?: number }, { x, y }: PracticeFrame, border: number) {
  const [wide, high] = [scene.width ?? 0, scene.height ?? 0];
  const width = Math.min(SIZE.width + 2 * border, wide);
  const height = Math.min(SIZE.height + 2 * border, high);
  const place = (at: number, size: number, whole: number) => Math.min(whole - size, Math.max(0, at - border));
  return { left: place(x, width, wide), top: place(y, height, high), width, height };
}

function noiseAt(iso: number): NoiseLine {
  const variance = NOISE_AT_100 ** 2 * (iso / 100);
  return { a: ((1 - READ_SHARE) * variance) / MID_TONE, b: READ_SHARE * variance };
}

function exposureOf({ iso, fault, seed }: PracticeFrame) {
  const minute = String(seed % 60).padStart(2, '0');
  const shutter = fault === 'shake' ? '1/30' : fault === 'movement' ? '1/100' : '1/500';
  return {
    IFD0: { Make: 'Quorvane', Model: 'Quorvane K2', DateTime: `2026:05:19 07:${minute}:00` },
    IFD2: {
      ISOSpeedRatings: String(iso),
      ExposureTime: shutter,
      FNumber: '56/10',
      FocalLength: '300/1',
      LensModel: 'Quorvane 300 mm f/4 Tele',
      DateTimeOriginal: `2026:05:19 07:${minute}:00`,
    },
  };
}
