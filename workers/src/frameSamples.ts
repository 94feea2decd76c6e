import {
  colourSpaceOf,
  GUIDE_SIDE,
  intersect,
  LastUsed,
  sizeWithin,
  wholeOf,
  type CodePiece,
  type ColourSpace,
  type FrameGuide,
  type Region,
} from '@vitrocept/core';
import type { WorkerFrame } from './protocol';

/** What was worked out from a piece is kept with it: some 10 MB of a final tile. */
const pieces = new LastUsed<string, Promise<CodePiece>>(16);
const spaces = new LastUsed<string, Promise<ColourSpace>>(4);

async function bytesFrom(url: string): Promise<ArrayBuffer> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The server answered ${response.status} for the frame's samples.`);
  return response.arrayBuffer();
}

/** The frame's colour space, fetched once. */
export function spaceOf(frame: WorkerFrame): Promise<ColourSpace> {
  return remembered(spaces, frame.id, async () => {
    const icc = new Uint8Array(await bytesFrom(`/api/frames/${frame.id}/profile`));
    return colourSpaceOf(icc.length ? icc : null, frame.channels);
  });
}

const guides = new LastUsed<string, Promise<FrameGuide>>(4);

/** The frame's small picture in its own linear light. */
export function guideOf(frame: WorkerFrame): Promise<FrameGuide> {
  return remembered(guides, frame.id, async () => {
    const { width, height } = sizeWithin(frame, GUIDE_SIDE);
    const values = new Float32Array(await bytesFrom(`/api/frames/${frame.id}/guide`));
    const count = width * height;
    const channels = Array.from({ length: frame.channels }, (_, c) => ({
      width,
      height,
      data: values.slice(c * count, (c + 1) * count),
    }));
    return { channels, frame };
  });
}

/** 16-bit codes of a region clipped to the frame; the last few are kept. */
export function codesOf(frame: WorkerFrame, wanted: Region): Promise<CodePiece> {
  const region = intersect(wanted, wholeOf(frame));
  const url = `/api/frames/${frame.id}/samples?x=${region.x}&y=${region.y}&width=${region.width}&height=${region.height}`;
  return piece(url, region, frame.channels, frame.bits);
}

/** The same of an outside version laid onto the frame. */
export function versionCodesOf(frame: WorkerFrame, versionId: string, wanted: Region): Promise<CodePiece> {
  const region = intersect(wanted, wholeOf(frame));
  const url = `/api/frames/${frame.id}/versions/${versionId}/samples?x=${region.x}&y=${region.y}&width=${region.width}&height=${region.height}`;
  return piece(url, region, frame.channels, 16);
}

function piece(url: string, region: Region, channels: 1 | 3, bits: 8 | 16): Promise<CodePiece> {
  return remembered(pieces, url, async () => {
    const bytes = await bytesFrom(url);
    const codes =
      bits === 16 ? new Uint16Array(bytes) : Uint16Array.from(new Uint8Array(bytes), (value) => value * 257);
    return { region, channels, codes };
  });
}

/** What was made for a key before, or is made now; what failed is made again when it is asked for again. */
export function remembered<T>(known: LastUsed<string, Promise<T>>, key: string, make: () => Promise<T>): Promise<T> {
  return known.of(key, () => {
    const made = make();
    made.catch(() => known.delete(key));
    return made;
  });
}
