import { array, boolean, mixed, number, object, string, type ObjectSchema } from 'yup';
import { CoreError } from '../errors';
import { FACE_PARTS, type FacePartName } from '../audit/face';
import type { Verdict } from '../audit/limits';
import { SHAPE_LENGTH } from '../noise/flatSpectrum';
import { GRAIN_SCALES } from '../read/grain';
import { MOST_PLACES } from '../read/localSizes';
import { PILES, type Pile } from '../read/pile';
import {
  METHODS,
  MOST_BLUR_PX,
  SETTING_KEYS,
  SETTINGS,
  SHAPE_KEYS,
  SHAPES,
  type Method,
  type ShapeKey,
} from '../methods';
import { MOST_PATH_COLUMNS, MOST_PATH_SIDE, type PathSquare } from '../psf/storedPath';
import { band, coordinate, finite, id, maskSchema, STRICT } from './maskSchema';
import {
  MOST_COMPARISONS,
  MOST_FACES,
  MOST_HALO_PERCENT,
  MOST_MASKS,
  MOST_PROBES,
  MOST_TRIALS,
  PRESCRIPTION_VERSION,
  PROBE_SIZES,
  type Geometry,
  type Prescription,
} from './prescription';
import { upToDate } from './versions';

const setting = (least: number, most: number) =>
  object({ value: finite().min(least).max(most), auto: boolean().required() })
    .noUnknown()
    .required();

const methodOrNone = () =>
  mixed<Method>()
    .nullable()
    .defined()
    .test('method', '${path} is not a method', (value) => value === null || METHODS.includes(value as Method));

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
    .test('square', SQUARE_SENTENCE, (value) => isSquare(value as PathSquare));

const path = () =>
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
    .test('square', SQUARE_SENTENCE, (value) => value === undefined || isSquare(value as PathSquare));

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

const ofEach = <K extends string, V>(keys: readonly K[], make: (key: K) => V) =>
  Object.fromEntries(keys.map((key) => [key, make(key)])) as Record<K, V>;

function shapeSetting(key: ShapeKey) {
  const { least, most } = SHAPES[key];
  const within = number().min(least).max(most).optional();
  return key === 'blades' ? within.integer() : within;
}

const recoveryShape = {
  method: mixed<Method>()
    .oneOf([...METHODS])
    .required(),
  ...ofEach(SETTING_KEYS, (key) => setting(SETTINGS[key].least, SETTINGS[key].most)),
  ...ofEach(SHAPE_KEYS, shapeSetting),
  haloLimitPercent: number().min(0).max(MOST_HALO_PERCENT).nullable().defined(),
  path: path(),
};

const box = object({ x: coordinate(), y: coordinate(), width: finite().min(1), height: finite().min(1) }).noUnknown();

const keptFigure = () =>
  object({
    verdict: mixed<Verdict>().oneOf(['safe', 'check', 'damaged', 'not measurable']).required(),
    value: finite(),
  })
    .noUnknown()
    .required();
const keptAudit = () =>
  object({
    probe: string().max(80).defined(),
    x: coordinate(),
    y: coordinate(),
    size: finite(),
    halo: keptFigure(),
    ringing: keptFigure(),
    unproven: keptFigure(),
    colour: keptFigure(),
    grain: keptFigure(),
    leak: keptFigure().optional().default(undefined),
    gain: object({ before: finite(), after: finite() }).noUnknown().nullable().defined().default(undefined),
  })
    .noUnknown()
    .required();

const facePart = () =>
  object({
    part: mixed<FacePartName>()
      .oneOf([...FACE_PARTS])
      .required(),
    x: coordinate(),
    y: coordinate(),
    rx: finite().min(0.5).max(20000),
    ry: finite().min(0.5).max(20000),
  })
    .noUnknown()
    .required();
const face = () =>
  object({
    id: id(),
    name: string().max(60).required(),
    isFound: boolean().required(),
    sureness: number().min(0).max(1).optional(),
    parts: array().of(facePart()).max(FACE_PARTS.length).required(),
  })
    .noUnknown()
    .required();
const keptLikeness = () =>
  object({
    face: string().max(60).required(),
    part: mixed<FacePartName>()
      .oneOf([...FACE_PARTS])
      .required(),
    shift: keptFigure(),
    hue: keptFigure(),
    structure: keptFigure(),
  })
    .noUnknown()
    .required();

/** What a mask has of its own. */
const planShape = () => ({
  trials: array()
    .of(
      object({ id: id(), name: string().max(60).optional(), ...recoveryShape })
        .noUnknown()
        .required(),
    )
    .max(MOST_TRIALS)
    .required(),
  auditKey: string().max(40).optional(),
  likeness: array()
    .of(keptLikeness())
    .max(MOST_FACES * FACE_PARTS.length)
    .optional()
    .default(undefined),
  audit: array().of(keptAudit()).max(MOST_PROBES).optional().default(undefined),
  comparisons: array()
    .of(
      object({ left: id(), right: id(), preferred: string().max(60).nullable().defined(), probe: id() })
        .noUnknown()
        .required(),
    )
    .max(MOST_COMPARISONS)
    .optional()
    .default(undefined),
  recovery: object({ ...recoveryShape, trialId: string().max(60).nullable().defined() })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
});
const maskPlan = () =>
  object({ mask: maskSchema(), ...planShape() })
    .noUnknown()
    .required();

/** The one description of a valid prescription, for the page, the server and the command line. */
export const prescriptionSchema: ObjectSchema<Prescription> = object({
  version: mixed<typeof PRESCRIPTION_VERSION>().oneOf([PRESCRIPTION_VERSION]).required(),
  box: box.nullable().defined().default(undefined),
  reading: object({
    method: methodOrNone(),
    blurSizePx: finite().min(0).max(MOST_BLUR_PX),
    directionDeg: finite().min(0).max(180),
    auto: boolean().required(),
    noise: noiseLines(),
    noiseFloor: array().of(finite().min(0)).min(1).max(3).required(),
    grain: grain(),
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
        kind: mixed<'mask' | 'box' | 'centre'>().oneOf(['mask', 'box', 'centre']).required(),
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
    })
      .noUnknown()
      .required(),
  })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
  cleaning: object({
    luminance: setting(0, 200),
    colour: setting(0, 200),
    blotchPx: setting(8, 64),
    detailKept: setting(0, 100),
    channelPercents: array().of(finite().min(0).max(100)).max(3).required(),
    band: band().nullable().defined().default(undefined),
    maskId: string().max(60).nullable().defined(),
  })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
  geometry: object({
    crop: box.nullable().defined().default(undefined),
    quarterTurns: mixed<Geometry['quarterTurns']>().oneOf([0, 1, 2, 3]).required(),
  })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
  mask: maskSchema(),
  masksBelow: array().of(maskPlan()).max(MOST_MASKS).optional().default(undefined),
  masksAbove: array().of(maskPlan()).max(MOST_MASKS).optional().default(undefined),
  probes: array()
    .of(
      object({
        id: id(),
        name: string().max(80).defined(),
        x: coordinate(),
        y: coordinate(),
        size: number()
          .oneOf([...PROBE_SIZES])
          .optional(),
      })
        .noUnknown()
        .required(),
    )
    .max(MOST_PROBES)
    .required(),
  ...planShape(),
  faces: array().of(face()).max(MOST_FACES).optional().default(undefined),
})
  .noUnknown()
  .required() as unknown as ObjectSchema<Prescription>;

/**
 * A prescription of any version as today's. Unknown fields are refused, never dropped.
 *
 * @throws CoreError PRESCRIPTION_INVALID with what is wrong and where, PRESCRIPTION_NEWER.
 */
export function checkPrescription(value: unknown): Prescription {
  const saved = upToDate(value);
  try {
    return prescriptionSchema.validateSync(saved, STRICT) as Prescription;
  } catch (error) {
    throw new CoreError('PRESCRIPTION_INVALID', `Not a valid prescription: ${(error as Error).message}.`);
  }
}
