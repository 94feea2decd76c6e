import { number, object, string, type InferType } from 'yup';
import { folderNameFault } from '../folderNames';

export const id = string().matches(/^[0-9a-f-]{36}$/);

export const idParams = object({ id: id.required() }).noUnknown();

export const shootName = string().max(120).matches(/\S/, 'a shoot needs a name');

/** One folder under another. */
export const folderName = string().test('folder', (name, { createError }) => {
  const fault = name === undefined ? null : folderNameFault(name);
  return fault ? createError({ message: fault }) : true;
});

/** A whole number in a query string. */
export const whole = (least: number, most: number) => number().integer().min(least).max(most).required();

export const regionQuery = object({
  x: whole(-100000, 100000),
  y: whole(-100000, 100000),
  width: whole(1, 4096),
  height: whole(1, 4096),
}).noUnknown();

/** Crops for looking at are no larger than a screen. */
export const cropQuery = object({
  ...regionQuery.fields,
  width: whole(1, 2600),
  height: whole(1, 1600),
}).noUnknown();

export interface ById {
  Params: InferType<typeof idParams>;
}

export interface ByRegion {
  Querystring: InferType<typeof regionQuery>;
}
