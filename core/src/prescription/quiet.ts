import type { NoiseLine } from '../noise/noise';

/** Without a reading nothing is known of the noise: this is taken, a clean 8-bit picture. */
const QUIET_LINE: NoiseLine = { a: 0, b: 1e-5 };

export const QUIET = { noise: [QUIET_LINE, QUIET_LINE, QUIET_LINE], noiseFloor: [1e-5, 1e-5, 1e-5] };
