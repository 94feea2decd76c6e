import type { Carrying } from '../exif';
import { withoutPlace } from '../metadata/iptc';
import { copyXmp } from '../metadata/xmp';
import { AS_ORIGINAL, type CopyWish } from './copyWish';

/** Exif 2.32, 4.6.5, ColorSpace. */
const UNCALIBRATED = 65535;

/** What stands beside the samples: everything that is told of the shot and of the copy. */
export interface Beside {
  readonly carrying: Carrying;
  readonly xmp: Buffer;
  readonly iptc: Buffer | null;
}

export function besideOf({ facts, wishes = AS_ORIGINAL, how }: CopyWish): Beside {
  const { metadata, ppi, colour } = wishes;
  const colorSpace = colour === 'as-original' ? undefined : colour === 'srgb' ? 1 : UNCALIBRATED;
  const isWithoutPlace = metadata === 'without-place';
  const iptc = metadata === 'none' ? null : (facts.iptc ?? null);
  return {
    carrying: { metadata, ppi, changedAt: how?.at ?? null, colorSpace },
    xmp: copyXmp(metadata === 'none' ? null : (facts.xmp ?? null), facts, how ?? null, isWithoutPlace),
    iptc: iptc && isWithoutPlace ? withoutPlace(iptc) : iptc,
  };
}
