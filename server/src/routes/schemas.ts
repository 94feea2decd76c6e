import { number, object, string } from 'yup';

export const STRICT = { strict: true, stripUnknown: false } as const;

export const idParams = object({
  id: string()
    .matches(/^[0-9a-f-]{36}$/)
    .required(),
}).noUnknown();

/** A whole number in a query string. */
export const whole = (least: number, most: number) => number().integer().min(least).max(most).required();
