import sharp from 'sharp';
import { RGGB, seededRandom, throughSensor } from '@vitrocept/core';
import { pageOf, readPicture, writeCopy } from '@vitrocept/files';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { dngOf } from '../files/test/dngs';
import { losslessJpeg } from '../files/test/losslessJpeg';
import { seeded } from './outcome';

/** A wedge with texture. */
export function texture(seed: number, width: number, height: number, channels: 1 | 3 = 3): Buffer {
  const random = seeded(seed);
  const pixels = Buffer.alloc(width * height * channels);
  for (let i = 0; i < pixels.length; i++) {
    pixels[i] = 40 + 150 * ((Math.floor(i / channels) % width) / width) + 50 * random();
  }
  return pixels;
}

export const smallPng = (seed: number, width: number, height = width): Promise<Buffer> =>
  sharp(texture(seed, width, height), { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();

/** One whole file of every kind that is taken. */
export async function everyKind(): Promise<Record<string, Buffer>> {
  const [width, height] = [180, 140];
  const colour = () => sharp(texture(5, width, height), { raw: { width, height, channels: 3 } });
  const grey = () => sharp(texture(6, width, height, 1), { raw: { width, height, channels: 1 } });
  const folder = await mkdtemp(join(tmpdir(), 'vitrocept-kinds-'));
  const facts = { width, height, channels: 3 as const, icc: null, directories: null };
  const codes = Uint16Array.from(texture(7, width, height), (value) => value * 257);
  const own = async (format: 'tiff16' | 'png16') => {
    const path = join(folder, format);
    await writeCopy(path, { facts, pages: [pageOf('', codes, facts)], format });
    return readFile(path);
  };
  /** With XMP that says how it was made, as our copies have. */
  const told = async (format: 'jpeg' | 'tiff16') => {
    const path = join(folder, `told-${format}`);
    const how = {
      at: '2026-11-29T10:00:00.000Z',
      originalName: 'soak.jpg',
      originalSha256: null,
      stage: 'finished',
      prescription: '{"version":2}',
    };
    await writeCopy(path, { facts, pages: [pageOf('', codes, facts)], format, quality: 90, how });
    return readFile(path);
  };
  const scene = [5, 6, 7].map((seed) => ({
    width,
    height,
    data: Float32Array.from(texture(seed, width, height, 1), (value) => value / 255),
  }));
  const lossless = losslessJpeg(throughSensor(scene, RGGB, { a: 0, b: 0 }, seededRandom(1)), width, height, 14);
  const linearDng = async () => {
    const path = join(folder, 'linear.dng');
    await writeFile(path, await dngOf(scene));
    const picture = await readPicture(path);
    const page = pageOf('', Uint16Array.from(picture.samples), picture);
    await writeCopy(path, { facts: picture, pages: [page], format: 'dng' }, 'allowed');
    return readFile(path);
  };
  const kinds = {
    'jpeg.jpg': await colour()
      .withExif({ IFD0: { Model: 'Practice' } })
      .jpeg()
      .toBuffer(),
    'progressive.jpg': await colour().jpeg({ progressive: true }).toBuffer(),
    'grey.jpg': await grey().toColourspace('b-w').jpeg().toBuffer(),
    'colour.png': await colour().png().toBuffer(),
    'palette.png': await colour().png({ palette: true }).toBuffer(),
    'grey.png': await grey().toColourspace('b-w').png().toBuffer(),
    'sixteen.png': await own('png16'),
    'none.tif': await colour().tiff({ compression: 'none' }).toBuffer(),
    'lzw.tif': await colour().tiff({ compression: 'lzw' }).toBuffer(),
    'deflate.tif': await colour().tiff({ compression: 'deflate' }).toBuffer(),
    'jpeg.tif': await colour().tiff({ compression: 'jpeg' }).toBuffer(),
    'tiled.tif': await colour().tiff({ compression: 'lzw', tile: true, tileWidth: 64, tileHeight: 64 }).toBuffer(),
    'sixteen.tif': await own('tiff16'),
    'picture.avif': await colour().avif().toBuffer(),
    'told.jpg': await told('jpeg'),
    'told.tif': await told('tiff16'),
    'mosaic.dng': await dngOf(scene),
    'lossless.dng': await dngOf(scene, { packed: { bytes: lossless, compression: 7, bits: 14 } }),
    'linear.dng': await linearDng(),
  };
  await rm(folder, { recursive: true });
  return kinds;
}
