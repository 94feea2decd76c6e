import type { Calibration, CameraColour, Region, SensorLevels, Size } from '@vitrocept/core';
import { bayerPattern, CODE_MAX, CoreError, type BayerPattern } from '@vitrocept/core';
import { FileError } from '../fileError';
import { directoryAt, numbersOf, realsOf, type ByteSource, type Directory } from '../ifd';
import { COMPRESSION, DNG, LIGHT_SOURCES, PHOTOMETRIC } from './dngTags';
import { dngCorrections, type DngCorrections } from './opcodes';

/** What a DNG says of its sensor data. */
export interface DngLayout {
  /** The directory that holds the sensor data. */
  readonly raw: Directory;
  /** As stored, the sensor's margins with it. */
  readonly stored: Size;
  readonly planes: 1 | 3;
  readonly bits: number;
  /** The part that saw light, in the stored picture. */
  readonly active: Region;
  /** What the camera means to be shown, within the active part. */
  readonly crop: Region;
  /** Of the active part; null: no mosaic. */
  readonly pattern: BayerPattern | null;
  readonly levels: SensorLevels;
  readonly corrections: DngCorrections;
  /** Null: grey. */
  readonly colour: CameraColour | null;
  /** EV that the maker wants added. */
  readonly baselineExposure: number;
}

const COMPRESSION_NAMES: Readonly<Record<number, string>> = {
  9: 'VC-5',
  34892: 'lossy JPEG',
  52546: 'JPEG XL',
};

const MOST_DIRECTORIES = 32;

/** The directories that the first one of a DNG points to: the sensor data are in one of them, or in the first. */
export function directoriesOf(source: ByteSource, main: Directory): Directory[] {
  const others = numbersOf(main.get(DNG.subIfds));
  if (others.length > MOST_DIRECTORIES) {
    throw new FileError('RAW_DIRECTORIES', `The DNG is damaged: it points to ${others.length} directories.`);
  }
  return [main, ...others.map((at) => directoryAt(source, at))];
}

/** @throws FileError RAW_*, TIFF_BROKEN; CoreError MOSAIC_PATTERN */
export function dngLayout(source: ByteSource, main: Directory): DngLayout {
  const raw = directoriesOf(source, main).find((directory) => {
    const [kind] = numbersOf(directory.get(DNG.photometric));
    const [use = 0] = numbersOf(directory.get(DNG.subFileType));
    return use === 0 && (kind === PHOTOMETRIC.mosaic || kind === PHOTOMETRIC.linear);
  });
  if (!raw) throw new FileError('RAW_EMPTY', 'The DNG holds no sensor data.');
  const whole = (tag: number, usual: number) => numbersOf(raw.get(tag))[0] ?? usual;
  const stored = { width: whole(DNG.width, 0), height: whole(DNG.height, 0) };
  const isMosaic = whole(DNG.photometric, 0) === PHOTOMETRIC.mosaic;
  const planes = whole(DNG.samplesPerPixel, 1);
  if (isMosaic ? planes !== 1 : planes !== 1 && planes !== 3) {
    throw new FileError('RAW_PLANES', `The DNG has ${planes} values a sample; 1 or 3 are taken.`);
  }
  const bits = whole(DNG.bitsPerSample, 16);
  if (bits < 8 || bits > 16 || whole(DNG.sampleFormat, 1) !== 1) {
    const kind = whole(DNG.sampleFormat, 1) === 3 ? 'floating point' : 'bits';
    throw new FileError(
      'RAW_DEPTH',
      `The DNG holds samples of ${bits} ${kind}; whole numbers of 8 to 16 bits are read.`,
    );
  }
  const compression = whole(DNG.compression, 1);
  if (!Object.values<number>(COMPRESSION).includes(compression)) {
    const name = COMPRESSION_NAMES[compression] ?? `method ${compression}`;
    throw new FileError('RAW_COMPRESSION', `The DNG is compressed with ${name}, which is not read.`);
  }
  const active = activeArea(raw, stored);
  const colour = planes === 3 || isMosaic ? colourOf(main) : null;
  return {
    raw,
    stored,
    planes: planes as 1 | 3,
    bits,
    active,
    crop: cropOf(raw, active),
    pattern: isMosaic ? patternOf(raw) : null,
    levels: levelsOf(raw, active, planes, bits),
    corrections: dngCorrections(raw, active),
    colour,
    baselineExposure: realsOf(main.get(DNG.baselineExposure))[0] ?? 0,
  };
}

/** Tag 50829: top, left, bottom, right. */
function activeArea(raw: Directory, { width, height }: Size): Region {
  const [top = 0, left = 0, bottom = height, right = width] = numbersOf(raw.get(DNG.activeArea));
  if (top < bottom && left < right && bottom <= height && right <= width) {
    return { x: left, y: top, width: right - left, height: bottom - top };
  }
  throw new FileError('RAW_AREA', 'The DNG is damaged: the part that saw light lies outside the sensor.');
}

function cropOf(raw: Directory, active: Size): Region {
  const [x = 0, y = 0] = realsOf(raw.get(DNG.cropOrigin)).map(Math.round);
  const [width = active.width - x, height = active.height - y] = realsOf(raw.get(DNG.cropSize)).map(Math.round);
  if (x >= 0 && y >= 0 && width >= 1 && height >= 1 && x + width <= active.width && y + height <= active.height) {
    return { x, y, width, height };
  }
  return { x: 0, y: 0, width: active.width, height: active.height };
}

function patternOf(raw: Directory): BayerPattern {
  const [rows, columns] = numbersOf(raw.get(DNG.cfaRepeat));
  const [layout = 1] = numbersOf(raw.get(DNG.cfaLayout));
  const value = raw.get(DNG.cfaPattern)?.value;
  const own = [...(value ?? [])];
  if (rows !== 2 || columns !== 2 || layout !== 1) throw notBayer(`${rows ?? '?'} × ${columns ?? '?'}`);
  return bayerPattern(own);
}

const notBayer = (size: string) =>
  new CoreError('MOSAIC_PATTERN', `The sensor’s mosaic repeats after ${size}; only Bayer mosaics (2 × 2) are read.`);

const MOST_BLACKS = 64;

function levelsOf(raw: Directory, active: Region, planes: number, bits: number): SensorLevels {
  const table = numbersOf(raw.get(DNG.linearizationTable));
  const [rows = 1, columns = 1] = numbersOf(raw.get(DNG.blackRepeat));
  const given = realsOf(raw.get(DNG.black));
  const places = rows * columns * planes;
  // Before anything is built of so many.
  if (!(places > 0 && places <= MOST_BLACKS)) {
    throw new FileError(
      'RAW_LEVELS',
      `The DNG is damaged: its black level repeats after ${rows} × ${columns} samples.`,
    );
  }
  const values = Array.from({ length: places }, (_, i) => given[i] ?? given[0] ?? 0);
  const mostOf = table.length > 0 ? CODE_MAX : 2 ** bits - 1;
  const whites = realsOf(raw.get(DNG.white));
  const white = Array.from({ length: planes }, (_, i) => whites[i] ?? whites[0] ?? mostOf);
  const deltas = (tag: number, length: number) => realsOf(raw.get(tag)).slice(0, length);
  const blackByColumn = deltas(DNG.blackByColumn, active.width);
  const blackByRow = deltas(DNG.blackByRow, active.height);
  const darkest = Math.max(...values) + greatest(blackByColumn) + greatest(blackByRow);
  if (!white.every((value) => value > darkest)) {
    throw new FileError('RAW_LEVELS', 'The DNG is damaged: its white is not above its black.');
  }
  return { table: table.length > 0 ? table : null, black: { rows, columns, values }, blackByColumn, blackByRow, white };
}

const greatest = (values: readonly number[]) => values.reduce((most, value) => Math.max(most, value), 0);

/** @throws FileError RAW_COLOURS */
export function colourOf(main: Directory): CameraColour {
  const matrix = (tag: number) => {
    const values = realsOf(main.get(tag));
    return values.length === 9 ? values : undefined;
  };
  const calibration = (color: number, light: number, own: number, forward: number): Calibration[] => {
    const colorMatrix = matrix(color);
    if (!colorMatrix) return [];
    const [source = 0] = numbersOf(main.get(light));
    return [
      {
        kelvin: LIGHT_SOURCES[source] ?? LIGHT_SOURCES[23],
        colorMatrix,
        cameraCalibration: matrix(own),
        forwardMatrix: matrix(forward),
      },
    ];
  };
  const calibrations = [
    ...calibration(DNG.colorMatrix1, DNG.illuminant1, DNG.calibration1, DNG.forwardMatrix1),
    ...calibration(DNG.colorMatrix2, DNG.illuminant2, DNG.calibration2, DNG.forwardMatrix2),
  ];
  const balance = realsOf(main.get(DNG.analogBalance));
  const neutral = realsOf(main.get(DNG.asShotNeutral));
  const [x, y] = realsOf(main.get(DNG.asShotWhiteXy));
  if (calibrations.length === 0) {
    throw new FileError('RAW_COLOURS', 'The DNG does not say what the camera’s colours are (three of them are read).');
  }
  return {
    calibrations,
    analogBalance: balance.length === 3 ? balance : undefined,
    white: neutral.length === 3 ? { neutral } : { xy: x > 0 && y > 0 ? { x, y } : D55 },
  };
}

/** The light that is taken where a file does not say. */
const D55 = { x: 0.3324, y: 0.3474 };
