import {
  bayerPattern,
  colourSpaceOf,
  developMosaic,
  linearised,
  multiply3,
  sensorNoise,
  SRGB,
  writeIccProfile,
  type SensorLevels,
} from '@vitrocept/core';
import { NO_EXPOSURE, readExposure } from '../exif';
import { FileError } from '../fileError';
import { withFile } from '../fileSource';
import { directoryAt, numbersOf, readPages, withPointed, type ByteSource, type Directories } from '../ifd';
import { checkSize } from '../limits';
import { nodeKernels } from '../nodeKernels';
import { DNG, PHOTOMETRIC } from '../raw/dngTags';
import { openRaw, type RawFacts } from '../raw/rawLibrary';
import { turned } from '../raw/turned';
import type { Decoder, PictureFacts } from './decoder';

/** How files begin that are no TIFF and that the raw library knows. */
const BEGINNINGS = ['IIRO', 'IIRS', 'MMOR', 'IIU\0', 'FUJI'];
const CRX = 'ftypcrx ';

/** Sensor data in cameras' own formats, as the packaged raw library reads them; colours are filled in here. */
export const rawFileDecoder: Decoder = {
  format: 'raw',
  label: 'raw',
  isItsOwn(head, path) {
    const start = head.toString('latin1', 0, 4);
    if (BEGINNINGS.includes(start) || head.toString('latin1', 4, 12) === CRX) return true;
    if (start !== 'II*\0' && start !== 'MM\0*') return false;
    return head.toString('latin1', 8, 10) === 'CR' || withFile(path, holdsMosaic);
  },
  async inspect(path) {
    const { facts } = await opened(path, false);
    return factsOf(path, facts);
  },
  async decode(path, { orientation, channels }) {
    await nodeKernels();
    const { facts, image } = await opened(path, true);
    if (!image || image.data.length < image.raw_width * image.raw_height) throw unread();
    const { width, height, left_margin: left, top_margin: top } = image;
    const numbers = new Uint16Array(width * height);
    for (let y = 0; y < height; y++) {
      const from = (top + y) * image.raw_width + left;
      numbers.set(image.data.subarray(from, from + width), y * width);
    }
    const pattern = patternOf(facts);
    const neutral = neutralOf(facts);
    const mosaic = { width, height, data: linearised(numbers, image, 1, levelsOf(facts)) };
    const codes = developMosaic(mosaic, pattern, neutral, { x: 0, y: 0, width, height });
    return {
      samples: turned(codes, { width, height }, channels, orientation),
      sensorNoise: sensorNoise(mosaic, pattern, neutral),
    };
  },
};

/** Whether a TIFF's first directory or one it points to holds a mosaic. */
function holdsMosaic(source: ByteSource): boolean {
  try {
    const [main] = readPages(source, 1);
    const others = numbersOf(main.get(DNG.subIfds))
      .slice(0, 8)
      .map((at) => directoryAt(source, at));
    return [main, ...others].some((directory) => numbersOf(directory.get(DNG.photometric))[0] === PHOTOMETRIC.mosaic);
  } catch {
    return false;
  }
}

async function opened(path: string, wantsNumbers: boolean) {
  const found = await openRaw(path, wantsNumbers);
  if (!found) throw unread();
  return found;
}

const unread = () =>
  new FileError(
    'RAW_UNREAD',
    'The raw file is damaged, or of a camera that the raw library does not know. Convert it to DNG or TIFF.',
  );

/** Of the library's four directions: Exif 2.32, Orientation. */
const ORIENTATIONS: Readonly<Record<number, number>> = { 0: 1, 3: 3, 5: 8, 6: 6 };

function factsOf(path: string, facts: RawFacts): PictureFacts {
  checkSize({ width: facts.raw_width, height: facts.raw_height });
  checkSize(facts);
  patternOf(facts);
  const orientation = ORIENTATIONS[facts.flip] ?? 1;
  const { width, height } = facts;
  const icc = Buffer.from(
    writeIccProfile({
      description: 'camera, linear, by the raw library',
      toXyzD50: multiply3(SRGB.toXyzD50!, toSrgb(facts)),
      curve: [1],
    }),
  );
  const directories = directoriesOf(path);
  return {
    format: 'raw',
    width: orientation >= 5 ? height : width,
    height: orientation >= 5 ? width : height,
    channels: 3,
    bits: 16,
    fileBits: 16,
    icc,
    space: colourSpaceOf(icc, 3),
    directories,
    exposure: exposureOf(facts, directories),
    xmp: null,
    iptc: null,
    orientation,
    isSensorData: true,
    page: 0,
  };
}

/** @throws CoreError MOSAIC_PATTERN */
function patternOf({ filters, colors }: RawFacts) {
  if (colors !== 3) return bayerPattern([]);
  // Two bits a place, of two columns and eight rows; the fourth colour is the second green.
  const at = (x: number, y: number) => (filters >>> ((((y << 1) & 14) | (x & 1)) << 1)) & 3;
  const isRepeated = filters > 1000 && [0, 2, 4, 6].every((y) => at(0, y) === at(0, 0) && at(1, y + 1) === at(1, 1));
  const colours = [at(0, 0), at(1, 0), at(0, 1), at(1, 1)].map((colour) => (colour === 3 ? 1 : colour));
  return bayerPattern(isRepeated ? colours : []);
}

function levelsOf({ color_data: { black, cblack, maximum } }: RawFacts): SensorLevels {
  const own = [0, 1, 3, 2].map((i) => black + (cblack?.[i] ?? 0));
  if (!(maximum > Math.max(...own))) throw unread();
  return {
    table: null,
    black: { columns: 2, rows: 2, values: own },
    blackByColumn: [],
    blackByRow: [],
    white: [maximum],
  };
}

/** As shot; where the camera did not say, as the library takes daylight. */
function neutralOf({ color_data: { cam_mul: asShot, pre_mul: daylight } }: RawFacts): number[] {
  const gains = [asShot, daylight].find((row) => row[0] > 0 && row[1] > 0 && row[2] > 0)?.slice(0, 3) ?? [1, 1, 1];
  const least = Math.min(...gains);
  return gains.map((gain) => least / gain);
}

/** Rows scaled so that white stays white. */
function toSrgb({ color_data: { rgb_cam: rows } }: RawFacts): number[] {
  return rows.slice(0, 3).flatMap((row) => {
    const own = row.slice(0, 3);
    const sum = own.reduce((total, value) => total + value, 0);
    return own.map((value) => value / sum);
  });
}

/** What a raw file that is built as a TIFF says of the shot. */
function directoriesOf(path: string): Directories | null {
  try {
    return withFile(path, (source) => withPointed(source, readPages(source, 1)[0]));
  } catch {
    return null;
  }
}

function exposureOf(facts: RawFacts, directories: Directories | null) {
  const told = directories ? readExposure(directories) : NO_EXPOSURE;
  const { iso_speed: iso, shutter, aperture, focal_len: focal, timestamp, lens, camera_model: model } = facts;
  const positive = (value: number) => (value > 0 ? value : null);
  return {
    iso: told.iso ?? positive(iso),
    shutterS: told.shutterS ?? positive(shutter),
    fNumber: told.fNumber ?? positive(aperture),
    focalLengthMm: told.focalLengthMm ?? positive(focal),
    lens: told.lens ?? (lens?.Lens || null),
    camera: told.camera ?? (model || null),
    takenAt:
      told.takenAt ?? (timestamp > 0 ? new Date(timestamp * 1000).toISOString().slice(0, 19).replace('T', ' ') : null),
  };
}
