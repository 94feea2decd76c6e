import type { Kernels } from '../kernels';
import type { BlurModel } from '../methods';
import type { Grain } from '../noise/grain';
import type { NoiseLine } from '../noise/noise';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import type { Psf } from '../psf/psf';

/** Everything a recovery needs as numbers; nothing here is measured on the way. */
export interface RecoverySettings extends BlurModel {
  /** 0..100; 50 is the measured noise, every 10 more doubles its weight. */
  readonly noiseGuard: number;
  /** Percent of the neighbourhood's range; null is off. */
  readonly haloLimitPercent: number | null;
  readonly grainKeptPercent: number;
  /** A trained network adds the texture that it finds missing. */
  readonly learnedTexture?: boolean;
  /** Recovered at half size and brought up again. */
  readonly badlySoft?: boolean;
  /** Variances that count as noise: brightness and the two opponent colours (grey: one value), linear light. */
  readonly noiseFloor: readonly number[];
  /** The channels were cleaned of noise already. */
  readonly isCleaned?: boolean;
  readonly noise: readonly NoiseLine[];
  /** Of noise that is not white. */
  readonly grain?: Grain;
  /** JPEG, a mosaic or cleaning took the finest noise away. */
  readonly hidesNoise?: boolean;
}

export interface RecoveryInput {
  /** Linear light, never changed after; may reach past the frame (then samples there are repeats and `known` is 0). */
  readonly channels: Channels;
  readonly lumaWeights: readonly number[];
  /** 1 where the sample lies in the frame and in the mask (over 0.5), else 0. */
  readonly known: Plane;
  /** 1 where a channel reached white. */
  readonly clipped: Uint8Array;
  /** Place of the first sample in the frame. */
  readonly originX: number;
  readonly originY: number;
  /** Replaces the method's own point spread function. */
  readonly psf?: Psf;
  /** The channels cleaned of noise, where that was done already. */
  readonly clean?: Channels;
  /** The samples that will be seen, and not only audited; left out, all. */
  readonly shown?: Region;
}

/** What a recovery gives. Both in linear light, not clipped. */
export interface Recovered {
  /** The full answer of the method, amount 100. */
  readonly answer: Plane[];
  /** The same before the halo limit cut it and grain was added back: what the audit holds against the photograph. */
  readonly free: Plane[];
  /** How far the photograph was believed at each sample, 0..1: there alone it can contradict the answer. */
  readonly believed: Plane;
}

export interface RecoveryEffort {
  readonly iterations: number;
  /** The learned texture is left out. */
  readonly isDraft?: boolean;
  /** No sample farther from a tile than this is looked at; otherwise as far as agreeing with the whole frame asks. */
  readonly farthestPx?: number;
  readonly kernels: Kernels;
  readonly shouldStop?: () => boolean;
}

export const FINAL_EFFORT = { iterations: 10 };
/** For cells while a slider moves: marked as drafts, never written. */
export const DRAFT_EFFORT = { iterations: 5, farthestPx: 32, isDraft: true };
