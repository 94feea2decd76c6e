import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { copyFile, mkdir, open, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import { diskError, FileError, LIMITS, type Exposure, type FileFormat } from '@vitrocept/files';
import type { Services } from '../services';
import type { Frame } from '../db/frames';

interface Inspected {
  readonly format: FileFormat;
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
  readonly profile: string;
  readonly exposure: Exposure;
}

export interface BroughtIn {
  readonly frame: Frame;
  /** The shoot already held these bytes. */
  readonly known: boolean;
}

/**
 * Takes a file into a shoot: stored under its SHA-256 byte for byte, decoded once to prove that it is whole, and queued
 * for its first reading. A refused file leaves nothing behind.
 *
 * @throws FileError, CoreError with a sentence for the person
 */
export async function bringIn(
  services: Services,
  shootId: string,
  name: string | undefined,
  content: Readable,
): Promise<BroughtIn> {
  const { folder, stores } = services;
  const temporary = join(folder.incoming, randomUUID());
  try {
    const sha256 = await store(content, temporary);
    const twin = stores.frames.twinOf(shootId, sha256);
    if (twin) {
      // Whoever brings it in again wants it back.
      if (twin.removedAt) stores.frames.change([{ id: twin.id, isRemoved: false }]);
      await mend(temporary, folder.original(sha256), sha256);
      return { frame: twin, known: true };
    }
    const samples = folder.samples(sha256);
    const facts = await services.crew.run<Inspected>({ kind: 'inspect', path: temporary, samples });
    await keep(temporary, folder.original(sha256));
    const raced = stores.frames.twinOf(shootId, sha256);
    if (raced) return { frame: raced, known: true };
    const frame = stores.frames.add({ shootId, name: cleanName(name), sha256, ...facts });
    stores.readings.wait(frame.id);
    services.readings.wake();
    services.makeRoom();
    return { frame, known: false };
  } catch (error) {
    throw diskError(error as NodeJS.ErrnoException);
  } finally {
    await rm(temporary, { force: true });
  }
}

export function bringInFile(services: Services, shootId: string, path: string): Promise<BroughtIn> {
  return bringIn(services, shootId, basename(path), createReadStream(path));
}

export async function store(content: Readable, temporary: string): Promise<string> {
  // Somebody may have tidied the data folder up.
  await mkdir(dirname(temporary), { recursive: true });
  const hash = createHash('sha256');
  let bytes = 0;
  await pipeline(
    content,
    async function* (chunks) {
      for await (const chunk of chunks as AsyncIterable<Buffer>) {
        bytes += chunk.length;
        if (bytes > LIMITS.fileBytes) {
          const most = Math.round(LIMITS.fileBytes / (1024 * 1024));
          throw new FileError('FILE_TOO_LARGE', `The file has more than ${most} MB, which is the most that is taken.`);
        }
        hash.update(chunk);
        yield chunk;
      }
    },
    createWriteStream(temporary, { flags: 'wx' }),
  );
  return hash.digest('hex');
}

/** An original that was lost or damaged is put back when its bytes come in again. */
async function mend(temporary: string, place: string, sha256: string): Promise<void> {
  if (existsSync(place)) {
    const hash = createHash('sha256');
    await pipeline(createReadStream(place), hash);
    if (hash.digest('hex') === sha256) return;
    await rm(place);
  }
  await keep(temporary, place);
}

/** Flushed, then put in place by a rename or, where that cannot be, a copy; never over what is there. */
export async function keep(temporary: string, place: string): Promise<void> {
  if (existsSync(place)) return;
  await mkdir(dirname(place), { recursive: true });
  const file = await open(temporary, 'r');
  await file.sync();
  await file.close();
  // The same bytes may come in several times at once.
  const beside = `${place}.${randomUUID()}.part`;
  await rename(temporary, beside).catch(() => copyFile(temporary, beside));
  await rename(beside, place);
}

/** A name for showing and saving: no folders, no control characters. */
export function cleanName(name: string | undefined): string {
  const bare = basename((name ?? '').replaceAll('\\', '/'))
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .trim();
  return [...bare].slice(0, 200).join('') || 'unnamed';
}
