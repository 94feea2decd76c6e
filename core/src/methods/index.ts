import type { Psf } from '../psf/psf';
import type { StoredPath } from '../psf/storedPath';
import { cameraShake } from './cameraShake';
import { edgeContrast } from './edgeContrast';
import { fineTexture } from './fineTexture';
import {
  isBlurMethod,
  type BlurMethod,
  type BlurMethodDescription,
  type BlurModel,
  type Method,
  type MethodDescription,
} from './method';
import { missedFocus } from './missedFocus';
import { ordinarySoftness } from './ordinarySoftness';
import { straightMovement } from './straightMovement';

export * from './method';
export * from './settings';

const BLUR_DESCRIPTIONS: Record<BlurMethod, BlurMethodDescription> = {
  'ordinary-softness': ordinarySoftness,
  'missed-focus': missedFocus,
  'straight-movement': straightMovement,
  'camera-shake': cameraShake,
};

/** Every method, once: schema, tray, command line and help are made from these. */
export const METHOD_DESCRIPTIONS: Record<Method, MethodDescription> = {
  ...BLUR_DESCRIPTIONS,
  'edge-contrast': edgeContrast,
  'fine-texture': fineTexture,
};

export const descriptionOfBlur = (method: BlurMethod): BlurMethodDescription => BLUR_DESCRIPTIONS[method];

/** @throws CoreError for a blur that cannot be, NO_PATH for a camera shake without its path. */
export function psfOf(blur: BlurModel): Psf {
  if (!isBlurMethod(blur.method)) throw new RangeError(`${blur.method} has no blur model`);
  return BLUR_DESCRIPTIONS[blur.method].psf(blur);
}

/** Methods that follow a path are only offered where one was found. */
export function offered<M extends Method>(methods: readonly M[], path: StoredPath | undefined): M[] {
  return methods.filter((method) => !METHOD_DESCRIPTIONS[method].followsPath || path !== undefined);
}
