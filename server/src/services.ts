import type { DataFolder } from './dataFolder';
import { openDataFolder } from './dataFolder';
import { openDatabase } from './db/open';
import { frameStore } from './db/frames';
import { prescriptionStore } from './db/prescriptions';
import { readingStore } from './db/readings';
import { renderJobStore } from './db/renderJobs';
import { outsideVersionStore } from './db/outsideVersions';
import { shootStore } from './db/shoots';
import { firstReadings, type FirstReadings } from './readings/firstReadings';
import { renderQueue, type RenderQueue } from './renders/queue';
import { hireCrew, type Crew } from './crew/crew';

export interface Stores {
  readonly shoots: ReturnType<typeof shootStore>;
  readonly frames: ReturnType<typeof frameStore>;
  readonly readings: ReturnType<typeof readingStore>;
  readonly prescriptions: ReturnType<typeof prescriptionStore>;
  readonly renders: ReturnType<typeof renderJobStore>;
  readonly versions: ReturnType<typeof outsideVersionStore>;
}

/** Everything the routes work with. */
export interface Services {
  readonly folder: DataFolder;
  readonly stores: Stores;
  readonly crew: Crew;
  readonly readings: FirstReadings;
  readonly renders: RenderQueue;
  readonly log: (line: string) => void;
  readonly closing: boolean;
  close(): Promise<void>;
}

export function openServices(dataPath: string, log: (line: string) => void): Services {
  const folder = openDataFolder(dataPath);
  const db = openDatabase(folder.database);
  const state = { closing: false };
  const crew = hireCrew();
  const services: Services = {
    folder,
    stores: {
      shoots: shootStore(db),
      frames: frameStore(db),
      readings: readingStore(db),
      prescriptions: prescriptionStore(db),
      renders: renderJobStore(db),
      versions: outsideVersionStore(db),
    },
    crew,
    readings: firstReadings(() => services),
    renders: renderQueue(() => services),
    log,
    get closing() {
      return state.closing;
    },
    async close() {
      state.closing = true;
      await crew.close();
      await Promise.allSettled([services.readings.idle(), services.renders.idle()]);
      db.close();
    },
  };
  services.stores.renders.requeueInterrupted();
  return services;
}
