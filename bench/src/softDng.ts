import sharp from 'sharp';
import { practiceNeutral, PRACTICE_SENSOR, RGGB, seededRandom, srgbDecode, throughSensor } from '@vitrocept/core';
import { parseExif } from '../../files/src/exif';
import { writeDng } from '../../files/src/raw/writeDng';
import { SOFT_SIZE } from './softFrame';

/** What a sensor writes of a photograph, given as JPEG, which stands in the file for a first look. */
export async function softDng(jpeg: Buffer): Promise<Buffer> {
  const { data } = await sharp(jpeg).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const { width, height } = SOFT_SIZE;
  const light = Float32Array.from({ length: 256 }, (_, code) => srgbDecode(code / 255));
  const scene = [0, 1, 2].map((c) => {
    const plane = { width, height, data: new Float32Array(width * height) };
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = light[data[3 * i + c]];
    return plane;
  });
  const { colorMatrix, illuminant, black, white } = PRACTICE_SENSOR;
  const exif = (
    await sharp(jpeg)
      .withExif({ IFD0: { Model: 'Quorvane K2' } })
      .jpeg()
      .toBuffer({ resolveWithObject: true })
  ).data;
  return writeDng({
    ...SOFT_SIZE,
    samples: throughSensor(scene, RGGB, { a: 1e-5, b: 1e-7 }, seededRandom(3)),
    pattern: RGGB,
    black,
    white,
    colour: { uniqueModel: 'Quorvane K2', colorMatrix, illuminant, asShotNeutral: practiceNeutral() },
    preview: { ...SOFT_SIZE, jpeg },
    directories: parseExif((await sharp(exif).metadata()).exif)!,
  });
}
