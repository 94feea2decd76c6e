import type { Database } from 'better-sqlite3';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** So many days are kept. */
const MOST_BACKUPS = 7;
const LOOK_EVERY_MS = 60 * 60 * 1000;
const NAME = /^vitrocept-\d{4}-\d\d-\d\d\.sqlite$/;

const folderOf = (database: string) => join(dirname(database), 'backups');

/** The newest whole copy of a database; null where there is none. */
export function newestBackup(database: string): string | null {
  const folder = folderOf(database);
  const names = existsSync(folder) ? readdirSync(folder).filter((name) => NAME.test(name)) : [];
  const newest = names.sort().at(-1);
  return newest ? join(folder, newest) : null;
}

/**
 * Copies the database once a day, by SQLite's own means: whole, while it is in use. The oldest copies go.
 *
 * @returns Stops it.
 */
export function backUpDaily(db: Database, database: string, log: (line: string) => void): () => void {
  const look = () => void backUp(db, database).catch((error: Error) => log(`backup: ${error.message}`));
  const timer = setInterval(look, LOOK_EVERY_MS);
  timer.unref();
  look();
  return () => clearInterval(timer);
}

/**
 * A copy of the database as an earlier version left it, before it is brought to a newer form. Stays until somebody
 * removes it.
 */
export function backUpBefore(db: Database, database: string, form: number): void {
  const place = join(folderOf(database), `before-form-${form}.sqlite`);
  if (existsSync(place)) return;
  mkdirSync(dirname(place), { recursive: true });
  db.prepare('VACUUM INTO ?').run(`${place}.part`);
  renameSync(`${place}.part`, place);
}

/** Today's copy, unless it is there. */
export async function backUp(db: Database, database: string, now = new Date()): Promise<void> {
  const folder = folderOf(database);
  const place = join(folder, `vitrocept-${now.toISOString().slice(0, 10)}.sqlite`);
  if (existsSync(place)) return;
  mkdirSync(folder, { recursive: true });
  const part = `${place}.part`;
  rmSync(part, { force: true });
  await db.backup(part);
  renameSync(part, place);
  const names = readdirSync(folder)
    .filter((name) => NAME.test(name))
    .sort();
  for (const old of names.slice(0, -MOST_BACKUPS)) rmSync(join(folder, old), { force: true });
}
