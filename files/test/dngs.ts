import sharp from 'sharp';
import {
  practiceNeutral,
  PRACTICE_SENSOR,
  RGGB,
  seededRandom,
  srgbDecode,
  throughSensor,
  type BayerPattern,
  type NoiseLine,
  type Plane,
} from '@vitrocept/core';
import { asciiField, rationalField, shortField, type Field } from '../src/ifd';
import { writeDng, type DngWish } from '../src/raw/writeDng';

const directory = (...fields: Field[]) => new Map(fields.map((field) => [field.tag, field] as const));

export const SHOT = {
  main: directory(asciiField(0x010f, 'Quorvane'), asciiField(0x0110, 'Quorvane K2'), shortField(0x0112, 1)),
  exif: directory(shortField(0x8827, 400), rationalField(0x829a, 0.004), asciiField(0x9003, '2026:05:18 06:41:09')),
  gps: directory(),
};

/** A JPEG's pixels in linear sRGB. */
export async function linearScene(path: string, cut: { left: number; top: number; width: number; height: number }) {
  const { data, info } = await sharp(path).extract(cut).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return [0, 1, 2].map((c): Plane => {
    const plane = { width: info.width, height: info.height, data: new Float32Array(info.width * info.height) };
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = srgbDecode(data[3 * i + c] / 255);
    return plane;
  });
}

/** A scene as the practice camera's sensor writes it. */
export async function dngOf(
  scene: readonly Plane[],
  { pattern = RGGB, noise = { a: 0, b: 0 }, seed = 1, ...rest }: DngOptions = {},
): Promise<Buffer> {
  const [{ width, height }] = scene;
  const { black, white, colorMatrix, illuminant } = PRACTICE_SENSOR;
  const jpeg = await sharp({ create: { width: 48, height: 32, channels: 3, background: '#888' } })
    .jpeg()
    .toBuffer();
  return writeDng({
    width,
    height,
    samples: throughSensor(scene, pattern, noise, seededRandom(seed)),
    pattern,
    black,
    white,
    colour: { uniqueModel: 'Quorvane K2', colorMatrix, illuminant, asShotNeutral: practiceNeutral() },
    preview: { width: 48, height: 32, jpeg },
    directories: SHOT,
    ...rest,
  });
}

interface DngOptions extends Partial<Omit<DngWish, 'pattern'>> {
  readonly pattern?: BayerPattern;
  readonly noise?: NoiseLine;
  readonly seed?: number;
}
