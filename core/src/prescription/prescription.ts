import { array, boolean, mixed, number, object, string, type ObjectSchema } from 'yup';
import { CoreError } from '../errors';
import type { Mask, MaskOperation } from '../mask/maskOperation';
import type { Verdict } from '../audit/limits';
import type { Region } from '../picture/region';
import type { NoiseLine } from '../read/noise';
import { PILES, type Pile } from '../read/pile';
import { METHODS, type Method } from '../recover/blurModel';
import { MOST_PATH_SIDE, type StoredPath } from '../shake/storedPath';

export const PRESCRIPTION_VERSION = 1;
export const MOST_TRIALS = 12;
export const MOST_PROBES = 8;
/** The path of a long shake winds; discs and lines stay far below. */
export const MOST_BLUR_PX = 200;

/** A number with where it came from: automatic values are stored, never measured again while rendering. */
export interface Setting {
  readonly value: number;
  readonly auto: boolean;
}

/** One way of recovering with all its settings. */
export interface Recovery {
  readonly method: Method;
  readonly amount: Setting;
  readonly blurSizePx: Setting;
  readonly directionDeg: Setting;
  readonly noiseGuard: Setting;
  /** 0..50; null is off. */
  readonly haloLimitPercent: number | null;
  readonly grainKeptPercent: Setting;
  /** The path of a camera shake; the other methods have none. */
  readonly path?: StoredPath;
  /** Of a missed focus: blades of the diaphragm, 5 to 11, and its first corner; left out it is round. */
  readonly blades?: number;
  readonly bladesDeg?: number;
}

export interface Trial extends Recovery {
  readonly id: string;
  /** The person's own name for it; left out or empty, it goes by its method. */
  readonly name?: string;
}

/** Sides of the square that a probe watches, px of the frame. */
export const PROBE_SIZES = [64, 96, 128, 192, 256] as const;
export const USUAL_PROBE_SIZE = 96;

export interface Probe {
  readonly id: string;
  readonly name: string;
  readonly x: number;
  readonly y: number;
  /** One of PROBE_SIZES; left out it is 96. */
  readonly size?: number;
}

/** The square of the frame that a probe watches. */
export function regionOfProbe({ x, y, size = USUAL_PROBE_SIZE }: Probe): Region {
  return { x: Math.round(x) - size / 2, y: Math.round(y) - size / 2, width: size, height: size };
}

/** One figure of an audit as it is kept. */
export interface KeptFigure {
  readonly verdict: Verdict;
  readonly value: number;
}

/** The audit of the chosen trial at one probe, as it stood when it was chosen. */
export interface KeptAudit {
  readonly probe: string;
  readonly x: number;
  readonly y: number;
  readonly size: number;
  readonly halo: KeptFigure;
  readonly ringing: KeptFigure;
  readonly unproven: KeptFigure;
  readonly colour: KeptFigure;
  readonly grain: KeptFigure;
  /** 10–90 % width of edges, px. */
  readonly gain: { readonly before: number; readonly after: number } | null;
}

/** One answer to "Which is better?": two trials, and the one that was preferred; null is no difference. */
export interface Comparison {
  readonly left: string;
  readonly right: string;
  readonly preferred: string | null;
  readonly probe: string;
}

export const MOST_COMPARISONS = 400;

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Where a reading was taken. `key` tells whether that place has changed since. */
export interface MeasuredOver {
  readonly kind: 'mask' | 'box' | 'centre';
  readonly key: string;
}

/** A reading as it came out, for showing and for going back to Automatic. */
export interface Measured {
  readonly over: MeasuredOver;
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  readonly confidence: number;
  readonly runnerUp: Method | null;
  readonly runnerUpSizePx: number;
  readonly runnerUpDirectionDeg: number;
  readonly noisePercent: number;
  readonly clippedWhitePercent: number;
  readonly clippedBlackPercent: number;
  /** Power of the sharp picture at frequency 1; prescriptions saved before it was kept have none. */
  readonly signal?: number;
  readonly finestNowPx: number;
  readonly finestRecoverablePx: number;
  readonly pile: Pile;
}

/** The reading that was accepted; the base of every automatic value. Overruled by hand where `auto` is false. */
export interface AcceptedReading {
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  readonly auto: boolean;
  readonly noise: readonly NoiseLine[];
  readonly noiseFloor: readonly number[];
  /** The path of a camera shake, where the reading or its runner-up found one. */
  readonly path?: StoredPath;
  /** Where the blur changes over the subject: its size at several places. Empty where one size holds. */
  readonly sizes: readonly SizePlace[];
  readonly measured: Measured;
}

export interface SizePlace {
  readonly x: number;
  readonly y: number;
  readonly blurSizePx: number;
}

/** Everything done to one frame: pure data, replayable. */
export interface Prescription {
  readonly version: typeof PRESCRIPTION_VERSION;
  /** Where to measure while there is no mask; null is the centre 50 %. */
  readonly box: Box | null;
  readonly reading: AcceptedReading | null;
  /** Share of the removed noise mixed back, or null for no cleaning. */
  readonly cleaning: { readonly detailKeptPercent: number } | null;
  readonly mask: Mask;
  readonly probes: readonly Probe[];
  readonly trials: readonly Trial[];
  /** The trial that was chosen, as it was when chosen. */
  readonly recovery: (Recovery & { readonly trialId: string | null }) | null;
  /** What the audit said of it then. */
  readonly audit?: readonly KeptAudit[];
  /** Answers to "Which is better?". */
  readonly comparisons?: readonly Comparison[];
}

export function emptyPrescription(): Prescription {
  return {
    version: PRESCRIPTION_VERSION,
    box: null,
    reading: null,
    cleaning: null,
    mask: { id: 'mask-1', name: 'subject', opacityPercent: 100, operations: [] },
    probes: [],
    trials: [],
    recovery: null,
  };
}

const finite = () => number().required().test('finite', '${path} must be a finite number', Number.isFinite);
const setting = (least: number, most: number) =>
  object({ value: finite().min(least).max(most), auto: boolean().required() })
    .noUnknown()
    .required();
const coordinate = () => finite().min(-1e5).max(1e5);

const methodOrNone = () =>
  mixed<Method>()
    .nullable()
    .defined()
    .test('method', '${path} is not a method', (value) => value === null || METHODS.includes(value as Method));

const path = () =>
  object({
    side: finite().integer().min(3).max(MOST_PATH_SIDE),
    lengthPx: finite().min(0.1).max(1000),
    values: array().of(finite().min(0).max(1e6)).required(),
  })
    .noUnknown()
    .optional()
    .default(undefined)
    .test(
      'square',
      '${path} must hold side × side shares, not all 0, of an odd side',
      (value) =>
        value === undefined ||
        (value.side % 2 === 1 && value.values.length === value.side ** 2 && value.values.some((share) => share > 0)),
    );

const recoveryShape = {
  method: mixed<Method>()
    .oneOf([...METHODS])
    .required(),
  amount: setting(0, 100),
  blurSizePx: setting(0.3, MOST_BLUR_PX),
  directionDeg: setting(0, 180),
  noiseGuard: setting(0, 100),
  haloLimitPercent: number().min(0).max(50).nullable().defined(),
  grainKeptPercent: setting(0, 100),
  blades: number().integer().min(5).max(11).optional(),
  bladesDeg: number().min(0).max(180).optional(),
  path: path(),
};

const stroke = object({
  kind: mixed<'stroke'>().oneOf(['stroke']).required(),
  mode: mixed<'add' | 'erase'>().oneOf(['add', 'erase']).required(),
  sizePx: finite().min(0.5).max(20000),
  featherPercent: finite().min(0).max(100),
  points: array()
    .of(coordinate())
    .min(2)
    .max(20000)
    .test('pairs', '${path} must hold x and y in pairs', (points) => (points?.length ?? 0) % 2 === 0)
    .required(),
}).noUnknown();
const invert = object({ kind: mixed<'invert'>().oneOf(['invert']).required() }).noUnknown();

const operation = mixed<MaskOperation>()
  .required()
  .test('operation', '${path} is not a mask operation', function (value) {
    const kind = (value as { kind?: unknown } | undefined)?.kind;
    const schema: { validateSync(v: unknown, o: object): unknown } | null =
      kind === 'stroke' ? stroke : kind === 'invert' ? invert : null;
    if (!schema) return false;
    try {
      schema.validateSync(value, STRICT);
      return true;
    } catch (error) {
      return this.createError({ message: `${this.path}: ${(error as Error).message}` });
    }
  });

const box = object({ x: coordinate(), y: coordinate(), width: finite().min(1), height: finite().min(1) }).noUnknown();
const id = () => string().min(1).max(60).required();

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
    gain: object({ before: finite(), after: finite() }).noUnknown().nullable().defined().default(undefined),
  })
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
    noise: array()
      .of(
        object({ a: finite().min(0), b: finite().min(0) })
          .noUnknown()
          .required(),
      )
      .min(1)
      .max(3)
      .required(),
    noiseFloor: array().of(finite().min(0)).min(1).max(3).required(),
    path: path(),
    sizes: array()
      .of(
        object({ x: coordinate(), y: coordinate(), blurSizePx: finite().min(0).max(MOST_BLUR_PX) })
          .noUnknown()
          .required(),
      )
      .max(500)
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
  cleaning: object({ detailKeptPercent: finite().min(0).max(100) })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
  mask: object({
    id: id(),
    name: string().max(80).required(),
    opacityPercent: finite().min(0).max(100),
    operations: array().of(operation).max(5000).required(),
  })
    .noUnknown()
    .required(),
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
  trials: array()
    .of(
      object({ id: id(), name: string().max(60).optional(), ...recoveryShape })
        .noUnknown()
        .required(),
    )
    .max(MOST_TRIALS)
    .required(),
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
})
  .noUnknown()
  .required() as unknown as ObjectSchema<Prescription>;

const STRICT = { strict: true, abortEarly: true } as const;

/** @throws CoreError PRESCRIPTION_INVALID with what is wrong and where. */
export function checkPrescription(value: unknown): Prescription {
  const version = (value as { version?: unknown } | null)?.version;
  if (typeof version === 'number' && version > PRESCRIPTION_VERSION) {
    throw new CoreError(
      'PRESCRIPTION_NEWER',
      `The prescription has version ${version}; this Vitrocept knows versions up to ${PRESCRIPTION_VERSION}.`,
    );
  }
  try {
    return prescriptionSchema.validateSync(value, STRICT) as Prescription;
  } catch (error) {
    throw new CoreError('PRESCRIPTION_INVALID', `Not a valid prescription: ${(error as Error).message}.`);
  }
}
