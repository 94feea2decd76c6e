import { resolve } from 'node:path';
import sharp from 'sharp';
import {
  asLinearSrgb,
  bladedPsf,
  blurred,
  blurredTurning,
  cropPlane,
  decodePiece,
  discPsf,
  exposed,
  gaussianPsf,
  HAND_PATHS,
  handPath,
  inner,
  linePsf,
  MID_TONE,
  pathPsf,
  practiceNeutral,
  PRACTICE_SENSOR,
  reachOf,
  RGGB,
  seededRandom,
  srgbEncode,
  throughSensor,
  turningPath,
  wholeOf,
  type Moment,
  type NoiseLine,
  type Plane,
  type Psf,
  type Region,
  type Size,
} from '@vitrocept/core';
import { srgbPixels } from './cropJpeg';
import { parseExif } from './exif';
import { pieceOf } from './pieces';
import { PRACTICE_SIZE, type PracticeFrame } from './practiceFrames';
import { writeDng } from './raw/writeDng';
import { readPicture } from './readPicture';

const QUALITY = 93;
/** Noise at mid-tone at ISO 100, of clipping; it grows with the root of the ISO. */
const NOISE_AT_100 = 0.0015;
/** Of it so much does not hang on light. */
const READ_SHARE = 0.1;
/** A diaphragm never stands quite upright. */
const BLADES_TURNED_DEG = 17;

/** What the camera would have taken without fault and without noise, linear sRGB: what results are graded by. */
export async function truthOfPracticeFrame(truths: string, frame: PracticeFrame): Promise<Plane[]> {
  const { scene, border } = await litScene(truths, frame);
  return scene.map((plane) => inner(plane, border));
}

/** The same as a PNG of eight bits. */
export async function truthPng(truths: string, frame: PracticeFrame): Promise<Buffer> {
  const { pixels, width, height } = srgbPixels(await truthOfPracticeFrame(truths, frame));
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
}

/**
 * Takes the photograph: the scene in linear light, blurred, with noise of a sensor, as an sRGB JPEG or a DNG, with its
 * exposure.
 *
 * @param truths - Folder of the sharp scenes.
 */
export async function takePracticeFrame(truths: string, frame: PracticeFrame): Promise<Buffer> {
  return frame.isMosaic ? mosaicOfScene(truths, frame) : jpegOfScene(truths, frame);
}

/** The photograph to be looked at: as large as it is, or at most so many px long. */
export async function practiceView(truths: string, frame: PracticeFrame, side: number | null): Promise<Buffer> {
  const jpeg = await takePracticeFrame(truths, frame);
  return side === null ? jpeg : sharp(jpeg).resize({ width: side, height: side, fit: 'inside' }).jpeg().toBuffer();
}

/** The part of the scene that falls on the sensor and what blurs into it, linear sRGB. */
async function litScene(truths: string, frame: PracticeFrame): Promise<{ scene: Plane[]; border: number }> {
  const border = borderOf(frame);
  const picture = await readPicture(resolve(truths, frame.scene));
  const linear = asLinearSrgb(
    decodePiece(pieceOf(picture, wholeOf(picture)), wholeOf(picture), picture.space),
    picture.space,
  );
  const seen = within(picture, frame, border);
  return { scene: linear.map((plane) => cropPlane(plane, seen)), border };
}

/** The scene in linear light as it falls on the sensor. */
async function seenThroughFault(truths: string, frame: PracticeFrame): Promise<Plane[]> {
  const { scene, border } = await litScene(truths, frame);
  const moments = turningOf(frame);
  if (moments) return blurredTurning(scene, moments, border);
  const psf = psfOf(frame);
  return psf ? blurred(scene, psf, border) : scene;
}

const CORNER = Math.hypot(PRACTICE_SIZE.width, PRACTICE_SIZE.height) / 2;

/** So far beside the sensor something is still seen by it. */
function borderOf(frame: PracticeFrame): number {
  const moments = turningOf(frame);
  if (moments)
    return 2 + Math.ceil(Math.max(...moments.map(({ x, y, angle }) => Math.hypot(x, y) + Math.abs(angle) * CORNER)));
  const psf = psfOf(frame);
  return psf ? reachOf(psf) : 0;
}

/** A shaking hand that turns too; null: it does not. */
function turningOf({ fault, blurPx, seed, turnDeg = 0 }: PracticeFrame): Moment[] | null {
  if (fault !== 'shake' || turnDeg === 0) return null;
  return turningPath(seededRandom(1000 + seed), blurPx, (turnDeg * Math.PI) / 180);
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
    .jpeg({ quality: frame.quality ?? QUALITY, chromaSubsampling: '4:4:4' })
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

function psfOf({ fault, blurPx, seed, blades = 0 }: PracticeFrame): Psf | null {
  const random = seededRandom(1000 + seed);
  switch (fault) {
    case 'none':
      return null;
    case 'missed-focus':
      return blades > 0 ? bladedPsf(blurPx / 2, blades, BLADES_TURNED_DEG) : discPsf(blurPx / 2);
    case 'softness':
      return gaussianPsf(blurPx / 2.355);
    case 'movement':
      return linePsf(blurPx, 180 * random.uniform());
    case 'shake':
      return pathPsf(handPath(HAND_PATHS[seed % HAND_PATHS.length], random, blurPx));
  }
}

/** The part of the scene that the sensor and what blurs into it see, moved so that the scene holds it. */
function within({ width: wide, height: high }: Size, { x, y }: PracticeFrame, border: number): Region {
  const width = Math.min(PRACTICE_SIZE.width + 2 * border, wide);
  const height = Math.min(PRACTICE_SIZE.height + 2 * border, high);
  const place = (at: number, size: number, whole: number) => Math.min(whole - size, Math.max(0, at - border));
  return { x: place(x, width, wide), y: place(y, height, high), width, height };
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
