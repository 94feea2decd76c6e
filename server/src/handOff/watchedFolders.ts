import { watch, type FSWatcher } from 'chokidar';
import { existsSync, lstatSync, mkdirSync, readdirSync, renameSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { USUAL_NAME_PATTERN } from '@vitrocept/core';
import type { HandOff } from '../db/handOffs';
import { folderUnder } from '../folderNames';
import { bringInFile } from '../originals/bringIn';
import type { Services } from '../services';

/** Folders in which files are waited for. */
export interface WatchedFolders {
  /** Watches those that the database names, and no others. */
  renew(): Promise<void>;
  /** Resolves when nothing that was seen is still being taken in. */
  idle(): Promise<void>;
  close(): Promise<void>;
}

/** One that is watched. */
interface Watched {
  readonly place: string;
  readonly folder: string;
  watcher: FSWatcher;
  /** Of the folder that is watched: another of the same name is another. */
  inode: number;
  /** Its files one after the other; folders do not wait for one another. */
  work: Promise<void>;
}

/** A file is whole when nothing was written to it for so long. */
const QUIET_MS = 2000;
/** One that is no picture may still be coming: it is looked at again, and refused when it has not grown for so long. */
const PATIENCE_MS = 20_000;
/** Whoever ends the server does not wait longer for a file that is being taken in: it is taken at the next start. */
const LAST_MS = 10_000;
/** Names that programs write under until a file is whole. */
const UNFINISHED = /^\.|\.(part|tmp|partial|crdownload)$|~$/i;

/** Under a folder's own one: what came in, and what was refused. */
const TAKEN = 'taken';
const REFUSED = 'refused';

export function watchedFolders(services: () => Services, quietMs = QUIET_MS, patienceMs = PATIENCE_MS): WatchedFolders {
  const folders = new Map<string, Watched>();
  const closing = new AbortController();
  /** Files that may still be coming are waited for beside that. */
  const waiting = new Set<Promise<void>>();
  const looking = setInterval(lookAgain, quietMs).unref();

  async function takeIn(id: string, path: string): Promise<void> {
    const handOff = services().stores.handOffs.get(id);
    const found = lstatSync(path, { throwIfNoEntry: false });
    if (closing.signal.aborted || !handOff || !found) return;
    const name = basename(path);
    const { stores, log } = services();
    if (stores.shoots.get(handOff.shootId)?.removedAt) {
      log(`hand-off ${handOff.folder}: its shoot lies in the trash, so ${name} stays where it is`);
      return;
    }
    const refuse = (reason: string) => {
      stores.handOffs.refused(id, name, reason);
      moveInto(path, REFUSED);
    };
    // To read from a pipe may take for ever, and a link leads anywhere.
    if (!found.isFile()) return refuse('It is a link, a pipe or a device; files themselves are taken.');
    const tries = triesOf(services(), handOff, name);
    if (tries.count() >= MOST_TRIES) {
      tries.end();
      return refuse('Vitrocept ended twice while it was read, so it is not tried again.');
    }
    // As it is now: what grows while it is looked at is looked at again.
    const before = stateOf(path);
    tries.begin();
    try {
      const { frame } = await bringInFile(services(), handOff.shootId, path);
      moveInto(path, TAKEN);
      stores.handOffs.came(id, name, frame.id);
      if (handOff.keptId) recover(services(), handOff, frame.id);
    } catch (error) {
      if (services().closing) return;
      const { message, code = '' } = error as Error & { code?: string };
      // A full disk is not the file's fault: it stays where it is, for the next start.
      if (/^(DISK_|ENOSPC|EROFS|SQLITE_)/.test(code)) {
        log(`hand-off ${handOff.folder}, ${name}: ${message}`);
        return;
      }
      const refusal = refuseUnlessGrown(id, path, before, message).finally(() => waiting.delete(refusal));
      waiting.add(refusal);
    } finally {
      // Not reached where the process ends.
      tries.end();
    }
  }

  /** One that grows is seen again by itself. */
  async function refuseUnlessGrown(id: string, path: string, before: string, reason: string): Promise<void> {
    await setTimeout(patienceMs, null, { signal: closing.signal }).catch(() => undefined);
    if (closing.signal.aborted || !existsSync(path) || stateOf(path) !== before) return;
    services().stores.handOffs.refused(id, basename(path), reason);
    moveInto(path, REFUSED);
  }

  function watcherOf(id: string, { place, folder }: Pick<Watched, 'place' | 'folder'>): FSWatcher {
    const watcher = watch(place, {
      depth: 0,
      followSymlinks: false,
      ignored: (path, stats) => (stats?.isFile() ?? false) && UNFINISHED.test(basename(path)),
      awaitWriteFinish: { stabilityThreshold: quietMs, pollInterval: Math.min(100, quietMs) },
    });
    const seen = (path: string) => {
      const own = folders.get(id);
      if (!own) return;
      own.work = own.work
        .then(() => takeIn(id, path))
        .catch((error: Error) => services().log(`hand-off ${folder}, ${basename(path)}: ${error.message}`));
    };
    watcher.on('add', seen);
    // One that was no picture yet and has grown.
    watcher.on('change', seen);
    watcher.on('error', (error) => services().log(`hand-off ${folder}: ${(error as Error).message}`));
    return watcher;
  }

  function watchOne({ id, folder }: HandOff): void {
    const place = folderUnder(services().folder.handOff, folder);
    mkdirSync(place, { recursive: true });
    const own = { place, folder };
    const watched = { ...own, watcher: watcherOf(id, own), inode: inodeOf(place)!, work: Promise.resolve() };
    folders.set(id, watched);
  }

  /** One that was deleted and made anew is watched again; names that no program can say are mended. */
  function lookAgain(): void {
    for (const [id, watched] of folders) {
      const inode = inodeOf(watched.place);
      if (inode === null) continue;
      if (inode !== watched.inode) {
        watched.inode = inode;
        void watched.watcher.close();
        watched.watcher = watcherOf(id, watched);
      }
      try {
        mendNames(watched.place);
      } catch (error) {
        services().log(`hand-off ${watched.folder}: ${(error as Error).message}`);
      }
    }
  }

  return {
    async renew() {
      const wanted = services().stores.handOffs.all();
      for (const [id, { watcher }] of folders) {
        if (wanted.some((handOff) => handOff.id === id)) continue;
        folders.delete(id);
        await watcher.close();
      }
      for (const handOff of wanted) {
        if (folders.has(handOff.id)) continue;
        try {
          watchOne(handOff);
        } catch (error) {
          services().log(`hand-off ${handOff.folder}: ${(error as Error).message}`);
        }
      }
    },
    async idle() {
      await Promise.all([...folders.values()].map(({ work }) => work));
      await Promise.all(waiting);
    },
    async close() {
      closing.abort();
      clearInterval(looking);
      const all = [...folders.values()];
      const last = setTimeout(LAST_MS, undefined, { ref: false });
      await Promise.race([Promise.all(all.map(({ watcher }) => watcher.close())), last]);
      await Promise.race([Promise.all([...all.map(({ work }) => work), ...waiting]), last]);
    },
  };
}

const MOST_TRIES = 2;

/** How often a file was begun with and neither taken nor refused: the process ended under it. */
function triesOf({ stores: { notes } }: Services, { folder }: HandOff, name: string) {
  const note = `taking in ${folder}/${name}`;
  const count = () => Number(notes.get(note) ?? 0);
  return { count, begin: () => notes.set(note, String(count() + 1)), end: () => notes.forget(note) };
}

/** The frame is added to the folder's round, which is begun where there is none. */
function recover({ stores, rounds }: Services, handOff: HandOff, frameId: string): void {
  const listed = stores.kept.get(handOff.keptId!);
  if (!listed) return;
  const going = stores.handOffs.get(handOff.id)?.roundId;
  // One that somebody stopped stays stopped: what comes after begins another.
  const state = going ? stores.rounds.get(going)?.state : undefined;
  if (going && state && state !== 'stopped') stores.rounds.addFrame(going, frameId);
  else {
    const { format, quality, folder } = handOff;
    const wish = {
      kept: listed.kept,
      frameIds: [frameId],
      format,
      quality,
      namePattern: USUAL_NAME_PATTERN,
      folder,
      longEdgePx: null,
    };
    stores.handOffs.useRound(handOff.id, stores.rounds.add(wish).id);
  }
  rounds.wake();
}

/** Out of the inbox, under a name that is free there. */
function moveInto(path: string, folder: string): void {
  const place = join(path, '..', folder);
  mkdirSync(place, { recursive: true });
  renameSync(path, freeIn(place, basename(path)));
}

function freeIn(place: string, name: string): string {
  const ending = extname(name);
  const bare = basename(name, ending);
  for (let n = 1; ; n++) {
    const to = join(place, n === 1 ? name : `${bare} ${n}${ending}`);
    if (!lstatSync(to, { throwIfNoEntry: false })) return to;
  }
}

/** Bytes that are no UTF-8 cannot be said: the file gets a name with _ for them. */
function mendNames(place: string): void {
  for (const bytes of readdirSync(place, { encoding: 'buffer' })) {
    const name = bytes.toString('utf8');
    if (Buffer.from(name).equals(bytes) || UNFINISHED.test(name)) continue;
    renameSync(Buffer.concat([Buffer.from(`${place}/`), bytes]), freeIn(place, name.replaceAll('\uFFFD', '_')));
  }
}

function inodeOf(place: string): number | null {
  const found = lstatSync(place, { throwIfNoEntry: false });
  return found?.isDirectory() ? found.ino : null;
}

function stateOf(path: string): string {
  const found = lstatSync(path, { throwIfNoEntry: false });
  return found ? `${found.size} ${found.mtimeMs}` : '';
}
