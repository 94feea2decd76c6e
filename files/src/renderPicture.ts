import {
  changesGrid,
  createPlane,
  cropPlane,
  cutTo,
  decodePiece,
  encodeChannels,
  encodeTile,
  frameRegionFor,
  intersect,
  needsFrameGuide,
  passThrough,
  pastePlane,
  placedIn,
  pictureOver,
  regionNeeded,
  sizeAfter,
  tilesToRender,
  tilesTouching,
  wholeOf,
  type Prescription,
  type Region,
  type RenderSource,
  type Size,
  type StageEffort,
} from '@vitrocept/core';
import type { DecodedPicture } from './readPicture';
import { guideOfPicture } from './frameGuide';
import { pieceOf } from './pieces';

/** A finished picture: 16-bit codes, interleaved. */
export interface RenderedPicture extends Size {
  readonly codes: Uint16Array;
}

/** Renders a whole frame tile by tile in this thread. */
export function renderPicture(
  picture: DecodedPicture,
  prescription: Prescription,
  given: Omit<RenderSource, 'frame' | 'space'>,
  effort: StageEffort,
): RenderedPicture {
  const guide = needsFrameGuide(prescription) ? guideOfPicture(picture) : undefined;
  const source: RenderSource = { guide, ...given, frame: picture, space: picture.space };
  return changesGrid(prescription)
    ? onItsOwnGrid(picture, source, prescription, effort)
    : onTheFramesGrid(picture, source, prescription, effort);
}

/** What the frame's stages give for a tile, null where they change nothing, and the codes that it is made from. */
function passedTile(
  picture: DecodedPicture,
  source: RenderSource,
  prescription: Prescription,
  effort: StageEffort,
  tile: Region,
) {
  const piece = pieceOf(picture, regionNeeded(source, prescription, tile, effort));
  return { piece, passed: passThrough(source, prescription, piece, tile, effort) };
}

function onTheFramesGrid(
  picture: DecodedPicture,
  source: RenderSource,
  prescription: Prescription,
  effort: StageEffort,
): RenderedPicture {
  const { width, height } = picture;
  const out = pieceOf(picture, wholeOf(picture)).codes;
  for (const tile of tilesToRender(prescription, picture, source)) {
    const { piece, passed } = passedTile(picture, source, prescription, effort, tile);
    const { codes, changed } = encodeTile(source, piece, tile, passed);
    if (changed) placeTile(out, picture, tile, codes);
  }
  return { width, height, codes: out };
}

function onItsOwnGrid(
  picture: DecodedPicture,
  source: RenderSource,
  prescription: Prescription,
  effort: StageEffort,
): RenderedPicture {
  const size = sizeAfter(prescription, picture);
  const seen = frameRegionFor(prescription, picture, wholeOf(size));
  const linear = picture.space.decode.map(() => createPlane(seen.width, seen.height));
  for (const tile of tilesTouching(seen, picture)) {
    const part = intersect(tile, seen);
    const { piece, passed } = passedTile(picture, source, prescription, effort, tile);
    const own = passed ? cutTo(passed, part) : decodePiece(piece, part, picture.space);
    own.forEach((plane, c) => pastePlane(linear[c], plane, placedIn(part, seen)));
  }
  const codes = new Uint16Array(size.width * size.height * picture.channels);
  for (const tile of tilesTouching(wholeOf(size), size)) {
    const needed = frameRegionFor(prescription, picture, tile);
    const own = linear.map((plane) => cropPlane(plane, placedIn(needed, seen)));
    const finished = pictureOver(own, prescription, picture, tile);
    placeTile(codes, { ...size, channels: picture.channels }, tile, encodeChannels(finished, picture.space));
  }
  return { ...size, codes };
}

/** Puts a tile's codes into the whole picture's. */
export function placeTile(
  whole: Uint16Array,
  frame: { width: number; channels: number },
  tile: { x: number; y: number; width: number; height: number },
  codes: Uint16Array,
): void {
  const perRow = tile.width * frame.channels;
  for (let row = 0; row < tile.height; row++) {
    whole.set(
      codes.subarray(row * perRow, (row + 1) * perRow),
      ((tile.y + row) * frame.width + tile.x) * frame.channels,
    );
  }
}
