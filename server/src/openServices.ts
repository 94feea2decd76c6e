import { hireCrew, type Crew } from './crew/crew';
import { openDataFolder } from './dataFolder';
import { backUpDaily } from './db/backup';
import { openDatabase } from './db/open';
import { openStores } from './db/stores';
import { Changes } from './events/changes';
import { derivedLimit, makeRoom } from './originals/derivedSpace';
import { watchedFolders } from './handOff/watchedFolders';
import { firstReadings } from './readings/firstReadings';
import { renderQueue } from './renders/queue';
import { roundRunner } from './rounds/runner';
import { keepStarters } from './rounds/starters';
import type { Services } from './services';

export function openServices(
  dataPath: string,
  log: (line: string) => void,
  open: typeof openDatabase = openDatabase,
  /** How long files in watched folders must be quiet, ms. */
  waits: readonly [quietMs?: number, patienceMs?: number] = [],
  hire: () => Crew = hireCrew,
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
  const crew = hire();
  const changes = new Changes();
  const services: Services = {
    folder,
    stores: openStores(db, changes),
    changes,
    crew,
    readings: firstReadings(() => services),
    renders: renderQueue(() => services),
    rounds: roundRunner(() => services),
    handOffs: watchedFolders(() => services, ...waits),
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
      services.stores.rounds.forgive();
      stopBackups();
      await services.handOffs.close();
      await crew.close();
      await Promise.allSettled([services.readings.idle(), services.renders.idle(), services.rounds.idle()]);
      db.close();
      folder.unlock();
    },
  };
  const stopBackups = backUpDaily(db, folder.database, log);
  const { frames, versions, renders, rounds } = services.stores;
  renders.requeueInterrupted();
  rounds.freeLeases();
  keepStarters(services.stores);
  folder.setAside((sha256) => frames.knowsFile(sha256) || versions.knowsFile(sha256));
  return services;
}
