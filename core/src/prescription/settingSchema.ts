import { boolean, object } from 'yup';
import { finite } from './maskSchema';

export const setting = (least: number, most: number) =>
  object({ value: finite().min(least).max(most), auto: boolean().required() })
    .noUnknown()
    .required();

export const ofEach = <K extends string, V>(keys: readonly K[], make: (key: K) => V) =>
  Object.fromEntries(keys.map((key) => [key, make(key)])) as Record<K, V>;
