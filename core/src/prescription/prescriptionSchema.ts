import { array, boolean, mixed, number, object, string, type ObjectSchema } from 'yup';
import { CoreError } from '../errors';
import { FACE_PARTS } from '../audit/face';
import { METHODS, SETTING_KEYS, SETTINGS, SHAPE_KEYS, SHAPES, type Method, type ShapeKey } from '../methods';
import { band, coordinate, finite, id, maskSchema, STRICT } from './maskSchema';
import {
  MOST_COMPARISONS,
  MOST_FACES,
  MOST_HALO_PERCENT,
  LONG_EDGE_PX,
  MOST_ENLARGE,
  MOST_MASKS,
  MOST_PROBES,
  MOST_STRAIGHTEN_DEG,
  MOST_TRIALS,
  PRESCRIPTION_VERSION,
  PROBE_SIZES,
  PROPOSED_PARTS,
  type Geometry,
  type Prescription,
  type ProposedPart,
} from './prescription';
import { upToDate } from './versions';
import { corrections, finishing, mends } from './finishingSchema';
import { ofEach, setting } from './settingSchema';
import { face, keptAudit, keptLikeness } from './auditSchema';
import { acceptedReading, path } from './readingSchema';

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
  learnedTexture: boolean().optional(),
  badlySoft: boolean().optional(),
  path: path(),
};

const box = object({ x: coordinate(), y: coordinate(), width: finite().min(1), height: finite().min(1) }).noUnknown();

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
  reading: acceptedReading(),
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
    straightenDeg: number().min(-MOST_STRAIGHTEN_DEG).max(MOST_STRAIGHTEN_DEG).optional(),
    isMirrored: boolean().optional(),
    enlarge: number().min(1).max(MOST_ENLARGE).optional(),
  })
    .noUnknown()
    .nullable()
    .defined()
    .default(undefined),
  size: object({ longEdgePx: finite().integer().min(LONG_EDGE_PX.least).max(LONG_EDGE_PX.most).required() })
    .noUnknown()
    .optional()
    .default(undefined),
  outputSharpeningPercent: number().min(0).max(100).optional(),
  corrections: corrections(),
  mends: mends(),
  finishing: finishing(),
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
  proposed: array()
    .of(mixed<ProposedPart>().oneOf(PROPOSED_PARTS).required())
    .max(PROPOSED_PARTS.length)
    .optional()
    .default(undefined),
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
    return prescriptionSchema.validateSync(saved, STRICT);
  } catch (error) {
    throw new CoreError('PRESCRIPTION_INVALID', `Not a valid prescription: ${(error as Error).message}.`);
  }
}
