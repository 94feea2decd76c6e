import { number, object, string, type InferType } from 'yup';

export const idParams = object({
  id: string()
    .matches(/^[0-9a-f-]{36}$/)
    .required(),
}).noUnknown();

/** A whole number in a query string. */
export const whole = (least: number, most: number) => number().integer().min(least).max(most).required();

export const regionQuery = object({
  x: whole(-100000, 100000),
  y: whole(-100000, 100000),
  width: whole(1, 4096),
  height: whole(1, 4096),
}).noUnknown();

export interface ById {
  Params: InferType<typeof idParams>;
}

export interface ByRegion {
  Querystring: InferType<typeof regionQuery>;
}
