import { checkCleaning, CHECK_MARGIN, type CleaningCheck } from '../audit/cleaningCheck';
import type { Kernels } from '../kernels';
import { stabilised } from '../noise/anscombe';
import { cropPlane } from '../picture/crop';
import { brightnessOf } from '../picture/opponentColours';
import { encodeChannels, type Channels, type CodePiece } from '../picture/picture';
import { createPlane } from '../picture/plane';
import { grow, placedIn, type Region } from '../picture/region';
import type { Prescription } from '../prescription/prescription';
import { QUIET } from '../prescription/quiet';
import { FINAL_EFFORT } from '../recover/recovery';
import { cutTo, keptDecoded, passThrough } from './pipeline';
import type { RenderSource } from './stage';

/** What one tile looks like before and after cleaning alone, and what was taken along. */
export interface CleanedTile {
  readonly original: Uint16Array;
  readonly cleaned: Uint16Array;
  readonly check: CleaningCheck;
}

/** What `cleanTile` shows and checks of a tile. */
export const checkedAround = (tile: Region): Region => grow(tile, CHECK_MARGIN);

/**
 * Cleans a tile, recovers nothing, and checks what was removed.
 *
 * @param prescription - Cleans the frame and recovers nothing.
 * @param piece - Holds at least the part of `regionNeeded` for `checkedAround` that lies in the frame.
 */
export function cleanTile(
  source: RenderSource,
  prescription: Prescription,
  piece: CodePiece,
  tile: Region,
  kernels: Kernels,
): CleanedTile {
  const wide = checkedAround(tile);
  const passed = passThrough(source, prescription, piece, wide, { ...FINAL_EFFORT, kernels });
  const before = keptDecoded(piece, wide, source.space);
  const after = passed ? cutTo(passed, wide) : before;
  const share = passed?.touched
    ? cropPlane(passed.touched, placedIn(wide, passed.region))
    : createPlane(wide.width, wide.height);
  const { reading, cleaning } = prescription;
  const lines = (reading?.grain?.noise ?? reading?.noise ?? QUIET.noise).map(({ a, b }) => ({
    a,
    b: Math.max(b, 1e-9),
  }));
  const brightness = (planes: Channels) => brightnessOf(planes.map((plane, c) => stabilised(plane, lines[c])));
  const detailKept = cleaning!.detailKept.value / 100;
  const kept = { ...share, data: share.data.map((cleaned) => 1 - cleaned * (1 - detailKept)) };
  const inner = placedIn(tile, wide);
  const encode = (planes: Channels) =>
    encodeChannels(
      planes.map((plane) => cropPlane(plane, inner)),
      source.space,
    );
  return {
    original: encode(before),
    cleaned: encode(after),
    check: checkCleaning(brightness(before), brightness(after), kept, reading?.grain?.brightness, inner, tile),
  };
}
