import { existsSync, mkdirSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { practiceFrames } from '@vitrocept/files';
import { bringInFile } from './originals/bringIn';
import type { Services } from './services';

/** Holds the shoot while it is being loaded, so that a start that was stopped goes on at the next. */
const NOTE = 'demo shoot';
const DONE = 'loaded';

/**
 * At the first start, when there is no shoot yet, the demo shoot is brought in like any other: the frames that ship,
 * and those that the practice camera takes of their scenes, where these lie beside them.
 */
export async function loadDemoShoot(services: Services, framesFolder: string): Promise<void> {
  const { shoots, notes } = services.stores;
  const begun = notes.get(NOTE);
  if (begun === DONE || (begun === null && shoots.all().length > 0)) return;
  const shoot = shoots.get(begun ?? '') ?? shoots.add('Saltmere field station, May');
  notes.set(NOTE, shoot.id);
  const bringIn = (path: string) =>
    bringInFile(services, shoot.id, path).catch((error: Error) =>
      services.log(`demo shoot: ${path}: ${error.message}`),
    );
  for (const file of (await readdir(framesFolder)).sort()) {
    if (services.closing) return;
    await bringIn(join(framesFolder, file));
  }
  const truths = join(framesFolder, '..', 'truth');
  if (existsSync(truths)) await takePractice(services, shoot.id, truths, bringIn);
  if (!services.closing) notes.set(NOTE, DONE);
}

async function takePractice(
  services: Services,
  shootId: string,
  truths: string,
  bringIn: (path: string) => Promise<unknown>,
): Promise<void> {
  const { stores, crew, folder, log } = services;
  const taken = new Set(stores.frames.inShoot(shootId).map(({ name }) => name));
  for (const frame of practiceFrames().filter(({ name }) => !taken.has(name))) {
    if (services.closing) return;
    mkdirSync(folder.incoming, { recursive: true });
    const path = join(folder.incoming, frame.name);
    try {
      await crew.run({ kind: 'practice', truths, frame, path });
      await bringIn(path);
    } catch (error) {
      log(`practice camera: ${frame.name}: ${(error as Error).message}`);
    } finally {
      await rm(path, { force: true });
    }
  }
}
