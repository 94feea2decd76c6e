import type { SampleFile } from '@vitrocept/files';
import type { DataFolder } from '../dataFolder';
import type { Frame } from '../db/frames';

export function sampleFileOf(folder: DataFolder, frame: Frame): SampleFile {
  const { width, height, channels, bits, sha256 } = frame;
  return { path: folder.samples(sha256), original: folder.original(sha256), width, height, channels, bits };
}
