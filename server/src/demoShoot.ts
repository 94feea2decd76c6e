import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { bringInFile } from './originals/bringIn';
import type { Services } from './services';

/** Holds the shoot while it is being loaded, so that a start that was stopped goes on at the next. */
const NOTE = 'demo shoot';
const DONE = 'loaded';

/** At the first start, when there is no shoot yet, the demo shoot is brought in like any other. */
export async function loadDemoShoot(services: Services, framesFolder: string): Promise<void> {
  const { shoots, notes } = services.stores;
  const begun = notes.get(NOTE);
  if (begun === DONE || (begun === null && shoots.all().length > 0)) return;
  const shoot = shoots.get(begun ?? '') ?? shoots.add('Saltmere field station, May');
  notes.set(NOTE, shoot.id);
  for (const file of (await readdir(framesFolder)).sort()) {
    if (services.closing) return;
    await bringInFile(services, shoot.id, join(framesFolder, file)).catch((error: Error) =>
      services.log(`demo shoot: ${file}: ${error.message}`),
    );
  }
  if (!services.closing) notes.set(NOTE, DONE);
}
