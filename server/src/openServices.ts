import { hireCrew } from './crew/crew';
import { openDataFolder } from './dataFolder';
import { openDatabase } from './db/open';
import { openStores } from './db/stores';
import { Changes } from './events/changes';
import { derivedLimit, makeRoom } from './originals/derivedSpace';
import { firstReadings } from './readings/firstReadings';
import { renderQueue } from './renders/queue';
import type { Services } from './services';

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
  const changes = new Changes();
  const services: Services = {
    folder,
    stores: openStores(db, changes),
    changes,
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
