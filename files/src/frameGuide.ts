import { readFile } from 'node:fs/promises';
import { GUIDE_SIDE, LastUsed, sizeWithin, type Channels, type FrameGuide } from '@vitrocept/core';
import type { DecodedPicture } from './readPicture';
import type { SampleFile } from './sampleFile';
import { shrunkPicture, shrunkSamples } from './smallPicture';
import { writeFileAtomically } from './writeAtomically';

/** The last guides that were asked for; one is at most 3 MB. */
const guides = new LastUsed<string, Promise<FrameGuide>>(4);

/** Where a frame's guide is kept, beside its samples. */
export const guidePath = ({ path }: Pick<SampleFile, 'path'>): string => `${path}.guide`;

/** The whole frame, small, in its own linear light; made once and kept beside the samples. */
export function guideOf(file: SampleFile): Promise<FrameGuide> {
  return guides.of(file.path, () => {
    const made = readOrMake(file);
    made.catch(() => guides.delete(file.path));
    return made;
  });
}

async function readOrMake(file: SampleFile): Promise<FrameGuide> {
  const { width, height } = sizeWithin(file, GUIDE_SIDE);
  const count = width * height;
  const kept = await readFile(guidePath(file)).catch(() => null);
  if (kept?.length === 4 * count * file.channels) {
    const values = new Float32Array(kept.buffer.slice(kept.byteOffset, kept.byteOffset + kept.length));
    const channels = Array.from({ length: file.channels }, (_, c) => ({
      width,
      height,
      data: values.slice(c * count, (c + 1) * count),
    }));
    return { channels, frame: { width: file.width, height: file.height } };
  }
  const channels = await shrunkSamples(file, GUIDE_SIDE);
  await writeFileAtomically(guidePath(file), 'allowed', (handle) => handle.writeFile(guideBytes(channels)));
  return { channels, frame: { width: file.width, height: file.height } };
}

/** 32-bit floats, channel after channel. */
export function guideBytes(channels: Channels): Uint8Array {
  const count = channels[0].data.length;
  const values = new Float32Array(count * channels.length);
  channels.forEach(({ data }, c) => values.set(data, c * count));
  return new Uint8Array(values.buffer);
}

/** The same of a picture that is held. */
export const guideOfPicture = (picture: DecodedPicture): FrameGuide => ({
  channels: shrunkPicture(picture, GUIDE_SIDE),
  frame: { width: picture.width, height: picture.height },
});
