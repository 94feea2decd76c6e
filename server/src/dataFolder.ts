import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';

export interface DataFolder {
  readonly root: string;
  readonly database: string;
  /** Originals by SHA-256, never changed once there. */
  original(sha256: string): string;
  /** Decoded samples of an original; can be deleted and made again. */
  samples(sha256: string): string;
  /** An outside version on a frame's grid; can be deleted and made again. */
  versionSamples(frameSha256: string, sha256: string): string;
  readonly incoming: string;
  readonly outbox: string;
}

/** Makes the folder ready. What an interrupted upload left behind is thrown away. */
export function openDataFolder(path: string): DataFolder {
  const root = resolve(path);
  const originals = join(root, 'originals');
  const derived = join(root, 'derived');
  const incoming = join(root, 'incoming');
  const outbox = join(root, 'outbox');
  rmSync(incoming, { recursive: true, force: true });
  for (const folder of [originals, derived, incoming, outbox]) mkdirSync(folder, { recursive: true });
  for (const file of [...readdirSync(outbox), ...readdirSync(derived)].filter((name) => name.endsWith('.part'))) {
    rmSync(join(outbox, file), { force: true });
    rmSync(join(derived, file), { force: true });
  }
  return {
    root,
    database: join(root, 'vitrocept.sqlite'),
    original: (sha256) => join(originals, sha256.slice(0, 2), sha256),
    samples: (sha256) => join(derived, `${sha256}.samples`),
    versionSamples: (frameSha256, sha256) =>
      join(derived, `${frameSha256.slice(0, 24)}-${sha256.slice(0, 24)}.version`),
    incoming,
    outbox,
  };
}
