import { watch, type FSWatcher } from 'chokidar';
import { existsSync, mkdirSync, renameSync, statSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { USUAL_NAME_PATTERN } from '@vitrocept/core';
import type { HandOff } from '../db/handOffs';
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

/** A file is whole when nothing was written to it for so long. */
const QUIET_MS = 2000;
/** One that is no picture may still be coming: it is looked at again, and refused when it has not grown for so long. */
const PATIENCE_MS = 20_000;
/** Names that programs write under until a file is whole. */
const UNFINISHED = /^\.|\.(part|tmp|partial|crdownload)$|~$/i;

/** Under a folder's own one: what came in, and what was refused. */
const TAKEN = 'taken';
const REFUSED = 'refused';

export function watchedFolders(services: () => Services, quietMs = QUIET_MS, patienceMs = PATIENCE_MS): WatchedFolders {
  const watchers = new Map<string, FSWatcher>();
  const closing = new AbortController();
  /** One file after the other. */
  let work: Promise<void> = Promise.resolve();
  /** Files that may still be coming are waited for beside that. */
  const waiting = new Set<Promise<void>>();

  async function takeIn(id: string, path: string): Promise<void> {
    const handOff = services().stores.handOffs.get(id);
    if (closing.signal.aborted || !handOff || !existsSync(path)) return;
    const name = basename(path);
    const { stores, log } = services();
    if (stores.shoots.get(handOff.shootId)?.removedAt) {
      log(`hand-off ${handOff.folder}: its shoot lies in the trash, so ${name} stays where it is`);
      return;
    }
    // As it is now: what grows while it is looked at is looked at again.
    const before = stateOf(path);
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
    }
  }

  /** One that grows is seen again by itself. */
  async function refuseUnlessGrown(id: string, path: string, before: string, reason: string): Promise<void> {
    await setTimeout(patienceMs, null, { signal: closing.signal }).catch(() => undefined);
    if (closing.signal.aborted || !existsSync(path) || stateOf(path) !== before) return;
    services().stores.handOffs.refused(id, basename(path), reason);
    moveInto(path, REFUSED);
  }

  function watchOne({ id, folder }: HandOff): FSWatcher {
    const place = join(services().folder.handOff, folder);
    mkdirSync(place, { recursive: true });
    const watcher = watch(place, {
      depth: 0,
      ignored: (path, stats) => (stats?.isFile() ?? false) && UNFINISHED.test(basename(path)),
      awaitWriteFinish: { stabilityThreshold: quietMs, pollInterval: Math.min(100, quietMs) },
    });
    const seen = (path: string) => {
      work = work.then(() => takeIn(id, path));
    };
    watcher.on('add', seen);
    // One that was no picture yet and has grown.
    watcher.on('change', seen);
    watcher.on('error', (error) => services().log(`hand-off ${folder}: ${(error as Error).message}`));
    return watcher;
  }

  return {
    async renew() {
      const wanted = services().stores.handOffs.all();
      for (const [id, watcher] of watchers) {
        if (wanted.some((handOff) => handOff.id === id)) continue;
        watchers.delete(id);
        await watcher.close();
      }
      for (const handOff of wanted) if (!watchers.has(handOff.id)) watchers.set(handOff.id, watchOne(handOff));
    },
    async idle() {
      await work;
      await Promise.all(waiting);
    },
    async close() {
      closing.abort();
      await Promise.all([...watchers.values()].map((watcher) => watcher.close()));
      await work;
      await Promise.all(waiting);
    },
  };
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
  const ending = extname(path);
  const bare = basename(path, ending);
  for (let n = 1; ; n++) {
    const to = join(place, n === 1 ? `${bare}${ending}` : `${bare} ${n}${ending}`);
    if (existsSync(to)) continue;
    renameSync(path, to);
    return;
  }
}

function stateOf(path: string): string {
  const found = statSync(path, { throwIfNoEntry: false });
  return found ? `${found.size} ${found.mtimeMs}` : '';
}
