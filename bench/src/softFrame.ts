import { join } from 'node:path';
import sharp from 'sharp';
import { fetchScenes } from './elsewhere/scenes';
import { STORE } from './pictures';

export const SOFT_SIZE = { width: 6000, height: 4000 };
const PICTURE = 'usr/share/backgrounds/Dragonfly_by_Bolly.jpg';
/** As a lens a little out of focus leaves it, and as ISO 800 does. */
const BLUR_SIGMA = 2.2;
const NOISE_CODES = 3;

/** A picture of a Debian package, enlarged, softened, with noise. */
export async function softFrame(): Promise<Buffer> {
  fetchScenes('choose');
  const { width, height } = SOFT_SIZE;
  const soft = await sharp(join(STORE, PICTURE))
    .resize(width, height, { fit: 'cover' })
    .blur(BLUR_SIGMA)
    .removeAlpha()
    .raw()
    .toBuffer();
  let state = 1;
  const uniform = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  for (let i = 0; i < soft.length; i++) {
    // Three uniform values make a bell.
    soft[i] = Math.min(
      255,
      Math.max(0, Math.round(soft[i] + 2 * NOISE_CODES * (uniform() + uniform() + uniform() - 1.5))),
    );
  }
  return sharp(soft, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 95 })
    .toBuffer();
}
