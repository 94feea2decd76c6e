import type { AreaOperation } from '../mask/maskOperation';
import type { Method } from '../methods';
import type { Point } from '../picture/region';
import type { Pile } from './pile';
import type { ProbeProposal } from './proposeProbes';
import type { Reading } from './reading';
import type { WhereToRead } from './whereToRead';

/** What is proposed for a frame that nobody has worked on. */
export interface Proposal {
  /** Where was measured, and the share of the frame it takes up. */
  readonly over: WhereToRead['kind'];
  readonly share: number;
  /** The subject; null where none stands out. */
  readonly mask: AreaOperation | null;
  /** On the subject, the likeliest eye first; px of the frame. */
  readonly probes: readonly ProbeProposal[];
}

/** A frame's Reading, and what is proposed with it. */
export interface LookedAfterFrame {
  readonly reading: Reading;
  readonly proposal: Proposal;
}

/** A first look at a frame: enough to sort it. */
export interface FirstLook {
  readonly reading: Reading;
  readonly over: WhereToRead['kind'];
  readonly place: Point;
}

/** What a sheet of many frames shows of a Reading. */
export interface SortedAs {
  readonly pile: Pile;
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  /** At mid-tone, of clipping. */
  readonly noisePercent: number;
  readonly finestNowPx: number;
  readonly finestRecoverablePx: number;
  readonly confidence: number;
  readonly over: WhereToRead['kind'] | null;
  /** On the subject, px of the frame; null where none is known. */
  readonly place: Point | null;
}

export function sortedAs(
  { cause, ...reading }: Reading,
  over: SortedAs['over'],
  place: Point | null | undefined,
): SortedAs {
  const { pile, noisePercent, finestNowPx, finestRecoverablePx, confidence } = reading;
  return {
    pile,
    method: cause?.method ?? null,
    blurSizePx: cause?.blurSizePx ?? 0,
    directionDeg: cause?.directionDeg ?? 0,
    noisePercent,
    finestNowPx,
    finestRecoverablePx,
    confidence,
    over,
    place: place ? { x: place.x, y: place.y } : null,
  };
}
