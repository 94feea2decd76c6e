import Database from 'better-sqlite3';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';

const MIGRATIONS = fileURLToPath(new URL('./migrations/', import.meta.url));

/** Opens the database file and brings it to the newest form; each numbered migration runs once, whole or not at all. */
export function openDatabase(path: string): Database.Database {
  const db = new Database(path);
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = FULL');
  db.pragma('foreign_keys = ON');
  db.pragma('busy_timeout = 5000');
  const reached = db.pragma('user_version', { simple: true }) as number;
  for (const file of readdirSync(MIGRATIONS)
    .filter((name) => name.endsWith('.sql'))
    .sort()) {
    const number = Number(file.slice(0, 3));
    if (number <= reached) continue;
    db.transaction(() => {
      db.exec(readFileSync(join(MIGRATIONS, file), 'utf8'));
      db.pragma(`user_version = ${number}`);
    })();
  }
  return db;
}
