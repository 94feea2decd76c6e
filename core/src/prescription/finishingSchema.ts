import { array, mixed, number, object } from 'yup';
import { coordinate, finite, id, maskSchema } from './maskSchema';
import {
  CORRECTION_KEYS,
  CORRECTIONS,
  CURVE_GAP,
  GREEN_MAGENTA,
  KELVIN,
  MOST_CURVE_POINTS,
  type WhiteBalance,
} from './corrections';
import {
  CHANGE_KEYS,
  CHANGES,
  MOST_LOCAL_CHANGES,
  MOST_MEND_PX,
  MOST_MENDS,
  VIGNETTE,
  VIGNETTE_KEYS,
  WHOLE,
  WHOLE_KEYS,
} from './finishing';
import { ofEach, setting } from './settingSchema';

const within = ({ least, most }: { readonly least: number; readonly most: number }) => finite().min(least).max(most);

const WHITE_BALANCES = {
  'as-taken': object({ kind: mixed<'as-taken'>().oneOf(['as-taken']).required() }).noUnknown(),
  picked: object({
    kind: mixed<'picked'>().oneOf(['picked']).required(),
    x: coordinate(),
    y: coordinate(),
    gains: array().of(finite().min(0.01).max(100)).length(3).required(),
  }).noUnknown(),
  temperature: object({
    kind: mixed<'temperature'>().oneOf(['temperature']).required(),
    kelvin: within(KELVIN),
    greenMagenta: within(GREEN_MAGENTA),
  }).noUnknown(),
};

const whiteBalance = () =>
  mixed<WhiteBalance>()
    .required()
    .test('kind', '${path} is no white balance', function (value) {
      const schema = WHITE_BALANCES[value?.kind];
      if (!schema) return false;
      try {
        schema.validateSync(value, { strict: true });
        return true;
      } catch (error) {
        return this.createError({ message: `${this.path}: ${(error as Error).message}` });
      }
    });

export const corrections = () =>
  object({
    ...ofEach(CORRECTION_KEYS, (key) => setting(CORRECTIONS[key].least, CORRECTIONS[key].most)),
    whiteBalance: whiteBalance(),
    curve: array()
      .of(
        object({ x: finite().min(0).max(1), y: finite().min(0).max(1) })
          .noUnknown()
          .required(),
      )
      .max(MOST_CURVE_POINTS)
      .required()
      .test('order', '${path} must hold points from dark to bright', (points) =>
        (points ?? []).every(({ x }, i) => i === 0 || x - points[i - 1].x >= CURVE_GAP - 1e-9),
      ),
  })
    .noUnknown()
    .optional()
    .default(undefined);

const localChange = () =>
  object({ mask: maskSchema(), ...ofEach(CHANGE_KEYS, (key) => within(CHANGES[key])) })
    .noUnknown()
    .required();

export const finishing = () =>
  object({
    ...ofEach(WHOLE_KEYS, (key) => within(WHOLE[key])),
    vignette: object(ofEach(VIGNETTE_KEYS, (key) => within(VIGNETTE[key])))
      .noUnknown()
      .required(),
    localChanges: array().of(localChange()).max(MOST_LOCAL_CHANGES).required(),
  })
    .noUnknown()
    .optional()
    .default(undefined);

/** Points of a mend's stroke at most. */
const MOST_POINTS = 400;

export const mends = () =>
  array()
    .of(
      object({
        id: id(),
        stroke: object({
          points: array()
            .of(coordinate())
            .min(2)
            .max(2 * MOST_POINTS)
            .required()
            .test('pairs', '${path} must hold pairs of numbers', (values) => (values ?? []).length % 2 === 0),
          sizePx: number().min(1).max(MOST_MEND_PX).required(),
        })
          .noUnknown()
          .required(),
        dx: finite().min(-2000).max(2000),
        dy: finite().min(-2000).max(2000),
        turnDeg: finite().min(-180).max(180),
      })
        .noUnknown()
        .required(),
    )
    .max(MOST_MENDS)
    .optional()
    .default(undefined);
