import Database from 'better-sqlite3';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import { backUpBefore, newestBackup } from './backup';
import { StartError, startErrorOf } from '../startError';

const MIGRATIONS = fileURLToPath(new URL('./migrations/', import.meta.url));

/**
 * Opens the database file and brings it to the newest form; each numbered migration runs once, whole or not at all.
 *
 * @throws StartError where it is damaged, of a newer version, or cannot be written
 */
export function openDatabase(path: string): Database.Database {
  let db: Database.Database | null = null;
  try {
    db = new Database(path);
    migrate(db, path);
    return db;
  } catch (error) {
    db?.close();
    const { code = '' } = error as { code?: string };
    if (code === 'SQLITE_NOTADB' || code.startsWith('SQLITE_CORRUPT')) {
      const copy = newestBackup(path);
      throw new StartError(
        `The database ${path} is damaged. ${copy ? `The last good copy is ${copy}: put it in its place` : 'Put a copy of it back'}, or move it away and start anew: the originals lie untouched beside it.`,
      );
    }
    throw startErrorOf(error, path);
  }
}

function migrate(db: Database.Database, path: string): void {
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = FULL');
  db.pragma('foreign_keys = ON');
  db.pragma('busy_timeout = 5000');
  const [{ quick_check: found }] = db.pragma('quick_check(1)') as { quick_check: string }[];
  if (found !== 'ok') throw Object.assign(new Error(found), { code: 'SQLITE_CORRUPT' });
  const reached = db.pragma('user_version', { simple: true }) as number;
  const files = readdirSync(MIGRATIONS)
    .filter((name) => name.endsWith('.sql'))
    .sort();
  const newest = Number(files.at(-1)!.slice(0, 3));
  if (reached > newest) {
    throw new StartError(
      `The database ${path} is of a newer Vitrocept (form ${reached}; this one knows forms up to ${newest}). Start that one, or choose another data folder: VITROCEPT_DATA=… npm start`,
    );
  }
  if (reached > 0 && reached < newest) backUpBefore(db, path, newest);
  for (const file of files) {
    const number = Number(file.slice(0, 3));
    if (number <= reached) continue;
    db.transaction(() => {
      db.exec(readFileSync(join(MIGRATIONS, file), 'utf8'));
      db.pragma(`user_version = ${number}`);
    })();
  }
}
