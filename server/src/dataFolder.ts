import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { lockFolder } from './folderLock';
import { startErrorOf } from './startError';

export interface DataFolder {
  readonly root: string;
  readonly database: string;
  /** Originals by SHA-256, never changed once there. */
  original(sha256: string): string;
  /** Decoded samples of an original; can be deleted and made again. */
  samples(sha256: string): string;
  /** An outside version on a frame's grid; can be deleted and made again. */
  versionSamples(frameSha256: string, sha256: string): string;
  /** Of one piece of work that is under way; thrown away at the next start. */
  working(name: string): string;
  readonly incoming: string;
  readonly derived: string;
  readonly outbox: string;
  /** Watched folders, each with its own name. */
  readonly handOff: string;
  /** Saved copies of rounds that were taken back. */
  readonly takenBack: string;
  /** Moves originals that no frame knows out of the way; they are kept. */
  setAside(isKnown: (sha256: string) => boolean): void;
  unlock(): void;
}

/**
 * Takes the folder for this process and makes it ready. What an interrupted piece of work left behind is thrown away.
 *
 * @throws StartError
 */
export function openDataFolder(path: string): DataFolder {
  const root = resolve(path);
  const originals = join(root, 'originals');
  const derived = join(root, 'derived');
  const incoming = join(root, 'incoming');
  const outbox = join(root, 'outbox');
  const handOff = join(root, 'hand-off');
  const takenBack = join(root, 'taken-back');
  let unlock: (() => void) | null = null;
  try {
    mkdirSync(root, { recursive: true });
    unlock = lockFolder(root);
    rmSync(incoming, { recursive: true, force: true });
    for (const folder of [originals, derived, incoming, outbox]) mkdirSync(folder, { recursive: true });
    for (const folder of [outbox, ...foldersIn(outbox), derived, ...foldersIn(originals)]) throwAwayParts(folder);
  } catch (error) {
    unlock?.();
    throw startErrorOf(error, root);
  }
  return {
    root,
    database: join(root, 'vitrocept.sqlite'),
    original: (sha256) => join(originals, sha256.slice(0, 2), sha256),
    samples: (sha256) => join(derived, `${sha256}.samples`),
    versionSamples: (frameSha256, sha256) =>
      join(derived, `${frameSha256.slice(0, 24)}-${sha256.slice(0, 24)}.version`),
    working: (name) => join(derived, `.${name}.part`),
    incoming,
    derived,
    outbox,
    handOff,
    takenBack,
    setAside(isKnown) {
      const aside = join(root, 'unclaimed');
      for (const folder of foldersIn(originals)) {
        for (const sha256 of readdirSync(folder).filter((name) => /^[0-9a-f]{64}$/.test(name) && !isKnown(name))) {
          mkdirSync(aside, { recursive: true });
          renameSync(join(folder, sha256), join(aside, sha256));
        }
      }
    },
    unlock,
  };
}

function foldersIn(folder: string): string[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder, { withFileTypes: true })
    .filter((entry) => entry.isDirectory())
    .map(({ name }) => join(folder, name));
}

function throwAwayParts(folder: string): void {
  for (const name of readdirSync(folder)) if (name.endsWith('.part')) rmSync(join(folder, name), { force: true });
}
