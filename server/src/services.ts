import type { DataFolder } from './dataFolder';
import { openDataFolder } from './dataFolder';
import { openDatabase } from './db/open';
import { frameStore } from './db/frames';
import { prescriptionStore } from './db/prescriptions';
import { readingStore } from './db/readings';
import { renderJobStore } from './db/renderJobs';
import { outsideVersionStore } from './db/outsideVersions';
import { noteStore } from './db/notes';
import { shootStore } from './db/shoots';
import { derivedLimit, makeRoom } from './originals/derivedSpace';
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
  readonly notes: ReturnType<typeof noteStore>;
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
  /** Called when something was written to `derived/`. */
  makeRoom(): void;
  close(): Promise<void>;
}

export function openServices(
  dataPath: string,
  log: (line: string) => void,
  open: typeof openDatabase = openDatabase,
): Services {
  const folder = openDataFolder(dataPath);
  let db: ReturnType<typeof openDatabase>;
  try {
    db = open(folder.database);
  } catch (error) {
    folder.unlock();
    throw error;
  }
  const mostDerived = derivedLimit(process.env.VITROCEPT_DERIVED_GB);
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
      notes: noteStore(db),
    },
    crew,
    readings: firstReadings(() => services),
    renders: renderQueue(() => services),
    log,
    get closing() {
      return state.closing;
    },
    makeRoom() {
      try {
        makeRoom(folder.derived, mostDerived);
      } catch (error) {
        log(`making room in derived/: ${(error as Error).message}`);
      }
    },
    async close() {
      state.closing = true;
      services.stores.renders.forgive();
      await crew.close();
      await Promise.allSettled([services.readings.idle(), services.renders.idle()]);
      db.close();
      folder.unlock();
    },
  };
  const { frames, versions, renders } = services.stores;
  renders.requeueInterrupted();
  folder.setAside((sha256) => frames.knowsFile(sha256) || versions.knowsFile(sha256));
  return services;
}
