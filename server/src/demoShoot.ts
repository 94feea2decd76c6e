import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { bringInFile } from './originals/bringIn';
import type { Services } from './services';

/** At the first start, when there is no shoot yet, the demo shoot is brought in like any other. */
export async function loadDemoShoot(services: Services, framesFolder: string): Promise<void> {
  if (services.stores.shoots.all().length > 0) return;
  const shoot = services.stores.shoots.add('Saltmere field station, May');
  for (const file of (await readdir(framesFolder)).sort()) {
    if (services.closing) return;
    await bringInFile(services, shoot.id, join(framesFolder, file));
  }
}
