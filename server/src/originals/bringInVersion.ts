import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import type { Alignment } from '@vitrocept/core';
import { diskError } from '@vitrocept/files';
import type { Frame } from '../db/frames';
import type { OutsideVersion } from '../db/outsideVersions';
import type { Services } from '../services';
import { HttpError } from '../httpError';
import { cleanName, keep, store } from './bringIn';

export const MOST_VERSIONS = 4;

/**
 * Takes a version of a frame that was made elsewhere, lays it onto the frame and keeps both the file and its samples on
 * the frame's grid. One that cannot be laid on is refused, with what was found at each place of the grid.
 */
export async function bringInVersion(
  services: Services,
  frame: Frame,
  name: string | undefined,
  content: Readable,
): Promise<OutsideVersion> {
  const { folder, stores, crew } = services;
  const temporary = join(folder.incoming, randomUUID());
  try {
    const sha256 = await store(content, temporary);
    const twin = stores.versions.ofFrame(frame.id).find((version) => version.sha256 === sha256);
    if (twin) return twin;
    const samples = folder.versionSamples(frame.sha256, sha256);
    const found = await crew.run<{ alignment: Alignment; width: number; height: number }>({
      kind: 'align',
      original: folder.original(frame.sha256),
      version: temporary,
      samples,
    });
    const { alignment, width, height } = found;
    if (!alignment.isAligned) {
      throw new HttpError(422, 'NOT_ALIGNED', refusal(alignment), { grid: alignment.grid });
    }
    await keep(temporary, folder.original(sha256));
    services.makeRoom();
    return stores.versions.add({ frameId: frame.id, name: cleanName(name), sha256, width, height, alignment });
  } catch (error) {
    throw diskError(error as NodeJS.ErrnoException);
  } finally {
    await rm(temporary, { force: true });
  }
}

function refusal({ medianPx, worstPx, grid }: Alignment): string {
  const told = grid.filter(({ left }) => left !== null).length;
  if (!Number.isFinite(medianPx) || told < 8) {
    return `It does not lie on this frame: only ${told} of ${grid.length} places look alike. Is it a version of another frame?`;
  }
  return `It does not lie on this frame exactly enough: places are off by ${medianPx.toFixed(2)} px in the middle and ${worstPx.toFixed(2)} px at worst; 0.25 and 0.70 px are allowed. Was it bent or turned?`;
}
