import { array, boolean, mixed, number, object, string } from 'yup';
import { METHODS, MOST_BLUR_PX, type Method } from '../methods';
import { SHAPE_LENGTH } from '../noise/flatSpectrum';
import { MOST_PATH_COLUMNS, MOST_PATH_SIDE, type PathSquare } from '../psf/storedPath';
import { GRAIN_SCALES } from '../noise/grain';
import { MOST_PLACES } from '../read/localSizes';
import { LEFT_ALONE, type LeftAlone } from '../read/causeReading';
import { PILES, type Pile } from '../read/pile';
import { coordinate, finite } from './maskSchema';
import { MEASURED_OVER, type MeasuredOver } from './prescription';

const methodOrNone = () =>
  mixed<Method>()
    .nullable()
    .defined()
    .test('method', '${path} is not a method', (value) => value === null || METHODS.includes(value));

const MOST_SHARE = 1e6;

/** Looked at as one value: paths by place hold tens of thousands, and a schema for each takes a second. */
const shares = () =>
  mixed<number[]>()
    .required()
    .test(
      'shares',
      `\${path} must hold numbers from 0 to ${MOST_SHARE}`,
      (values) =>
        Array.isArray(values) &&
        values.every((share) => typeof share === 'number' && share >= 0 && share <= MOST_SHARE),
    );

const pathSquare = {
  side: finite().integer().min(3).max(MOST_PATH_SIDE),
  lengthPx: finite().min(0.1).max(1000),
  values: shares(),
};

const SQUARE_SENTENCE = '${path} must hold side × side shares, not all 0, of an odd side';

function isSquare({ side, values }: PathSquare): boolean {
  return side % 2 === 1 && values?.length === side ** 2 && values.some((share) => share > 0);
}

const pathPlace = () =>
  object({ ...pathSquare, x: coordinate(), y: coordinate() })
    .noUnknown()
    .required()
    .test('square', SQUARE_SENTENCE, (value) => isSquare(value));

/** The path of a camera shake. */
export const path = () =>
  object({
    ...pathSquare,
    places: array()
      .of(pathPlace())
      .min(2)
      .max(MOST_PATH_COLUMNS ** 2)
      .optional()
      .default(undefined)
      .test('grid', '${path} must be a grid, row by row', (places) => places === undefined || isGrid(places)),
  })
    .noUnknown()
    .optional()
    .default(undefined)
    .test('square', SQUARE_SENTENCE, (value) => value === undefined || isSquare(value));

function isGrid(places: readonly { readonly x: number; readonly y: number }[]): boolean {
  const columns = places.filter(({ y }) => y === places[0].y).map(({ x }) => x);
  const rising = (values: readonly number[]) => values.every((value, i) => i === 0 || value > values[i - 1]);
  const rows = places.filter((_, i) => i % columns.length === 0).map(({ y }) => y);
  return (
    rising(columns) &&
    rising(rows) &&
    places.length === columns.length * rows.length &&
    places.every(({ x, y }, i) => x === columns[i % columns.length] && y === rows[Math.floor(i / columns.length)])
  );
}

const noiseLines = () =>
  array()
    .of(
      object({ a: finite().min(0), b: finite().min(0) })
        .noUnknown()
        .required(),
    )
    .min(1)
    .max(3)
    .required();
const shape = (length: number) => array().of(finite().min(0).max(100)).length(length).required();
const grain = () =>
  object({
    noise: noiseLines(),
    brightness: shape(SHAPE_LENGTH),
    colour: shape(SHAPE_LENGTH),
    colourByScale: shape(GRAIN_SCALES),
  })
    .noUnknown()
    .optional()
    .default(undefined);

/** A reading as a prescription keeps it. */
export const acceptedReading = () =>
  object({
    method: methodOrNone(),
    blurSizePx: finite().min(0).max(MOST_BLUR_PX),
    directionDeg: finite().min(0).max(180),
    auto: boolean().required(),
    noise: noiseLines(),
    noiseFloor: array().of(finite().min(0)).min(1).max(3).required(),
    grain: grain(),
    hidesNoise: boolean().optional(),
    path: path(),
    sizes: array()
      .of(
        object({ x: coordinate(), y: coordinate(), blurSizePx: finite().min(0).max(MOST_BLUR_PX) })
          .noUnknown()
          .required(),
      )
      .max(MOST_PLACES)
      .required(),
    measured: object({
      over: object({
        kind: mixed<MeasuredOver['kind']>().oneOf(MEASURED_OVER).required(),
        key: string().max(40).defined(),
      })
        .noUnknown()
        .required(),
      method: methodOrNone(),
      blurSizePx: finite().min(0).max(MOST_BLUR_PX),
      directionDeg: finite().min(0).max(180),
      confidence: finite().min(0).max(1),
      runnerUp: methodOrNone(),
      runnerUpSizePx: finite().min(0).max(MOST_BLUR_PX),
      runnerUpDirectionDeg: finite().min(0).max(180),
      noisePercent: finite().min(0),
      traces: object({ blocking: finite().min(0), overshootPercent: number().min(0).nullable().defined() })
        .noUnknown()
        .optional()
        .default(undefined),
      clippedWhitePercent: finite().min(0).max(100),
      clippedBlackPercent: finite().min(0).max(100),
      signal: number().min(0).optional(),
      finestNowPx: finite().min(0),
      finestRecoverablePx: finite().min(0),
      pile: mixed<Pile>()
        .oneOf([...PILES])
        .required(),
      leftAlone: mixed<LeftAlone>()
        .oneOf([...LEFT_ALONE])
        .optional(),
    })
      .noUnknown()
      .required(),
  })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined);
