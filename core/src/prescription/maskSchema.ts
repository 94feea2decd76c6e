import { array, boolean, mixed, number, object, string, type AnyObject, type Schema, type TestContext } from 'yup';
import { MOST_AREA_SIDE, unpackCoverage } from '../mask/area';
import { MOST_LOOP_POINTS, type CombineMode, type MaskOperation } from '../mask/maskOperation';
import { maskExcess, strokeFault } from './strokeCheck';

export const STRICT = { strict: true, abortEarly: true } as const;

export const finite = () => number().required().test('finite', '${path} must be a finite number', Number.isFinite);
export const coordinate = () => finite().min(-1e5).max(1e5);
export const id = () => string().min(1).max(60).required();
const kind = <K extends string>(name: K) => mixed<K>().oneOf([name]).required();
const isOff = () => boolean().optional();
const mode = () => mixed<CombineMode>().oneOf(['add', 'erase', 'intersect']).required();

/** Handles of a trapezoid; the outer ones may lie beyond what can be measured. */
export const band = () =>
  array()
    .of(finite().min(-1).max(2))
    .length(4)
    .required()
    .test('order', '${path} must hold four rising numbers', (handles) =>
      (handles ?? []).every((value, i) => i === 0 || value >= handles[i - 1]),
    );

const ORIGINS: Record<string, Schema> = {
  subject: object({
    kind: kind('subject'),
    dabs: array()
      .of(
        object({
          x: coordinate(),
          y: coordinate(),
          radius: finite().min(0.5).max(20000),
          isSubject: boolean().required(),
        })
          .noUnknown()
          .required(),
      )
      .max(500)
      .required(),
    only: array()
      .of(coordinate())
      .max(2 * MOST_LOOP_POINTS)
      .test('pairs', '${path} must hold pairs of numbers', (values) => (values ?? []).length % 2 === 0)
      .optional()
      .default(undefined),
  }).noUnknown(),
  tone: object({ kind: kind('tone'), band: band() }).noUnknown(),
  focus: object({ kind: kind('focus'), band: band() }).noUnknown(),
  colour: object({
    kind: kind('colour'),
    l: finite().min(-20).max(200),
    a: finite().min(-300).max(300),
    b: finite().min(-300).max(300),
    tolerance: finite().min(0.5).max(100),
  }).noUnknown(),
  edges: object({ kind: kind('edges') }).noUnknown(),
  holes: object({ kind: kind('holes') }).noUnknown(),
  specks: object({ kind: kind('specks') }).noUnknown(),
  file: object({ kind: kind('file'), name: string().max(200).required() }).noUnknown(),
};

const area = object({
  kind: kind('area'),
  isOff: isOff(),
  mode: mode(),
  from: mixed().required().test('origin', '${path} is not where an area can come from', fits(ORIGINS)),
  frameWidth: finite().integer().min(1).max(1e5),
  frameHeight: finite().integer().min(1).max(1e5),
  width: finite().integer().min(1).max(MOST_AREA_SIDE),
  height: finite().integer().min(1).max(MOST_AREA_SIDE),
  values: string().max(4e6).required(),
  key: string().min(1).max(40).required(),
})
  .noUnknown()
  .test(
    'coverage',
    '${path} does not hold its coverage',
    (value) => unpackCoverage(value.values, value.width, value.height) !== null,
  );

const MOST_GROW_PX = 200;
const MOST_FEATHER_PX = 400;

const OPERATIONS: Record<string, Schema> = {
  area,
  radial: object({
    kind: kind('radial'),
    isOff: isOff(),
    mode: mode(),
    x: coordinate(),
    y: coordinate(),
    rx: finite().min(0.5).max(1e5),
    ry: finite().min(0.5).max(1e5),
    featherPercent: finite().min(0).max(100),
    name: string().max(80).optional(),
  }).noUnknown(),
  linear: object({
    kind: kind('linear'),
    isOff: isOff(),
    mode: mode(),
    x0: coordinate(),
    y0: coordinate(),
    x1: coordinate(),
    y1: coordinate(),
  }).noUnknown(),
  invert: object({ kind: kind('invert'), isOff: isOff() }).noUnknown(),
  fill: object({ kind: kind('fill'), isOff: isOff() }).noUnknown(),
  grow: object({ kind: kind('grow'), isOff: isOff(), px: finite().min(-MOST_GROW_PX).max(MOST_GROW_PX) }).noUnknown(),
  feather: object({ kind: kind('feather'), isOff: isOff(), px: finite().min(0).max(MOST_FEATHER_PX) }).noUnknown(),
};

/** A test that picks the schema by the value's kind, so that a sentence says what is wrong with that kind. */
function fits(schemas: Record<string, Schema>) {
  return function (this: TestContext<AnyObject>, value: unknown) {
    const name = (value as { kind?: unknown } | null | undefined)?.kind;
    if (name === 'stroke' && schemas === OPERATIONS) {
      const fault = strokeFault(value);
      return fault === null || this.createError({ message: `${this.path}: ${fault}` });
    }
    if (typeof name !== 'string' || !Object.hasOwn(schemas, name)) return false;
    try {
      schemas[name].validateSync(value, STRICT);
      return true;
    } catch (error) {
      return this.createError({ message: `${this.path}: ${(error as Error).message}` });
    }
  };
}

const operation = mixed<MaskOperation>()
  .required()
  .test('operation', '${path} is not a mask operation', fits(OPERATIONS));

export const maskSchema = () =>
  object({
    id: id(),
    name: string().max(80).required(),
    opacityPercent: finite().min(0).max(100),
    operations: array()
      .of(operation)
      .max(5000)
      .test('excess', function (operations) {
        const excess = maskExcess(operations ?? []);
        return excess === null || this.createError({ message: `${this.path}: ${excess}` });
      })
      .required(),
  })
    .noUnknown()
    .required();
