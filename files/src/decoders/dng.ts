import {
  balancedColour,
  colourSpaceOf,
  CoreError,
  correctSensor,
  developLinear,
  developMosaic,
  fillBadSamples,
  linearised,
  sensorNoise,
  writeIccProfile,
  type BalancedColour,
} from '@vitrocept/core';
import { orientationOf, readExposure } from '../exif';
import { FileError } from '../fileError';
import { withFile } from '../fileSource';
import { isLittle, readPages, withPointed, type ByteSource } from '../ifd';
import { checkSize } from '../limits';
import { nodeKernels } from '../nodeKernels';
import { dngLayout, type DngLayout } from '../raw/dngLayout';
import { isReadHere, readDngSamples } from '../raw/dngSamples';
import { DNG } from '../raw/dngTags';
import { IPTC_TAG, XMP_TAG } from '../exif';
import { iptcDatasets } from '../metadata/iptc';
import { openRaw } from '../raw/rawLibrary';
import { turned } from '../raw/turned';
import type { Decoded, Decoder, PictureFacts } from './decoder';
import { damaged } from './raster';

/**
 * Sensor data in the open DNG format: developed to linear light in the camera's own colours, 16 bits, balanced for the
 * light of the shot. Source: the open DNG specification, 1.4.0.0.
 */
export const dngDecoder: Decoder = {
  format: 'dng',
  label: 'DNG',
  isItsOwn(head, path) {
    const start = head.toString('latin1', 0, 4);
    if (start !== 'II*\0' && start !== 'MM\0*') return false;
    try {
      return withFile(path, (source) => readPages(source, 1)[0].has(DNG.version));
    } catch {
      // A broken TIFF is told of by the decoder of TIFF.
      return false;
    }
  },
  inspect: (path, bytes) =>
    Promise.resolve().then(() => told(() => withFile(path, (source) => inspect(source, bytes)))),
  async decode(path, facts) {
    await nodeKernels();
    try {
      return await developed(path, facts);
    } catch (error) {
      throw asRefusal(error as Error);
    }
  },
};

async function developed(path: string, facts: PictureFacts): Promise<Decoded> {
  const { layout, samples } = withFile(path, (source) => {
    const layout = layoutOf(source);
    const samples = isReadHere(layout) ? ownSamples(source, layout) : null;
    return { layout, samples };
  });
  const active =
    samples ?? (await samplesByLibrary(path, layout)) ?? withFile(path, (source) => ownSamples(source, layout));
  const { crop, planes, pattern, levels, corrections } = layout;
  if (pattern) fillBadSamples(active, layout.active, corrections.bad);
  const light = linearised(active, layout.active, planes, levels);
  correctSensor(light, layout.active, planes, corrections.light);
  const { neutral } = balanceOf(layout);
  const { width, height } = layout.active;
  const mosaic = pattern && { width, height, data: light };
  const codes = mosaic
    ? developMosaic(mosaic, pattern, neutral, crop)
    : developLinear(light, layout.active, neutral, crop);
  return {
    samples: turned(codes, crop, facts.channels, facts.orientation),
    sensorNoise: mosaic ? sensorNoise(mosaic, pattern, neutral) : undefined,
  };
}

const ownSamples = (source: ByteSource, layout: DngLayout) => readDngSamples(source, layout, isLittle(source));

/** A row that goes on as it began, each of its two colours by one step. */
const isNoPicture = (row: Uint16Array): boolean =>
  row.every((value, i) => i < 2 || ((value - row[i - 2]) & 0xffff) === ((row[2] - row[0]) & 0xffff));

/**
 * Null where a row is no picture's: what it could not unpack the library leaves at nought, or goes on with without a
 * word, and whoever reads every code knows.
 *
 * @throws FileError PICTURE_DAMAGED
 */
async function samplesByLibrary(path: string, { stored, active }: DngLayout): Promise<Uint16Array | null> {
  const image = (await openRaw(path, true))?.image;
  if (image?.raw_width !== stored.width || image.raw_height !== stored.height) {
    throw damaged('DNG', new Error('its lossless JPEG cannot be unpacked'));
  }
  const out = new Uint16Array(active.width * active.height);
  for (let y = 0; y < active.height; y++) {
    const from = (active.y + y) * stored.width + active.x;
    const row = image.data.subarray(from, from + active.width);
    if (isNoPicture(row)) return null;
    out.set(row, y * active.width);
  }
  return out;
}

const layoutOf = (source: ByteSource): DngLayout => dngLayout(source, readPages(source, 1)[0]);

/** Greys need no balance. */
const balanceOf = ({ colour }: DngLayout): Pick<BalancedColour, 'neutral'> =>
  colour ? balancedColour(colour) : { neutral: [1] };

function inspect(source: ByteSource, bytes: number): PictureFacts {
  const layout = layoutOf(source);
  const { stored, crop, colour, planes, bits, pattern } = layout;
  checkSize(stored);
  if ((stored.width * stored.height * planes * bits) / 8 > bytes * MOST_GROWTH) {
    throw damaged('DNG', new Error(`${stored.width} × ${stored.height} px cannot come from ${bytes} bytes`));
  }
  const directories = withPointed(source, readPages(source, 1)[0]);
  const orientation = orientationOf(directories);
  const [width, height] = orientation >= 5 ? [crop.height, crop.width] : [crop.width, crop.height];
  const channels = colour ? 3 : 1;
  const icc = colour ? Buffer.from(profileOf(balancedColour(colour), pattern !== null)) : Buffer.from(GREY_LINEAR);
  return {
    format: 'dng',
    width,
    height,
    channels,
    bits: 16,
    fileBits: 16,
    icc,
    space: colourSpaceOf(icc, channels),
    directories,
    exposure: readExposure(directories),
    xmp: directories.main.get(XMP_TAG)?.value ?? null,
    iptc: iptcDatasets(directories.main.get(IPTC_TAG)?.value),
    orientation,
    isSensorData: true,
    page: 0,
  };
}

/** Lossless JPEG and Deflate of sensor data that are all the same. */
const MOST_GROWTH = 1100;

const profileOf = ({ toXyzD50 }: BalancedColour, isMosaic: boolean): Uint8Array =>
  writeIccProfile({
    description: isMosaic ? 'camera, linear, as demosaiced' : 'camera, linear',
    toXyzD50,
    curve: [1],
  });

const GREY_LINEAR = writeIccProfile({ description: 'grey, linear', toXyzD50: null, curve: [1] });

function told<T>(read: () => T): T {
  try {
    return read();
  } catch (error) {
    throw asRefusal(error as Error);
  }
}

const asRefusal = (error: Error): Error =>
  error instanceof FileError || error instanceof CoreError ? error : damaged('DNG', error);
