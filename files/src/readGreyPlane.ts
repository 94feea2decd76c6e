import { planeOf, type Plane } from '@vitrocept/core';
import { FileError } from './fileError';
import { readPicture } from './readPicture';

/** A grey picture (mask or PSF) as linear values 0..1: the codes as they stand, any gamma chunk ignored. */
export async function readGreyPlane(path: string, what: string): Promise<Plane> {
  const picture = await readPicture(path, { onlyValues: true });
  const most = picture.bits === 8 ? 255 : 65535;
  const { samples, channels } = picture;
  if (channels !== 1) {
    for (let i = 0; i < samples.length; i += 3) {
      if (samples[i] !== samples[i + 1] || samples[i] !== samples[i + 2]) {
        throw new FileError('NOT_GREY', `The ${what} must be a grey picture; this one has colours.`);
      }
    }
  }
  const values = new Float32Array(picture.width * picture.height);
  for (let i = 0; i < values.length; i++) values[i] = samples[i * channels] / most;
  return planeOf(picture.width, picture.height, values);
}
