import Database from 'better-sqlite3';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { StartError } from './startError';

/**
 * Holds the data folder for this process alone, before anything in it is touched; returns how to let go. The lock is
 * SQLite's exclusive one on a file of its own: the system frees it when the process ends in whatever way, so no stale
 * lock is ever left to be guessed at.
 */
export function lockFolder(root: string): () => void {
  const db = new Database(join(root, 'in-use.lock'), { timeout: 0 });
  const note = join(root, 'in-use.json');
  try {
    db.pragma('journal_mode = MEMORY');
    db.pragma('locking_mode = EXCLUSIVE');
    db.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    db.close();
    const { code } = error as { code?: string };
    if (code === 'SQLITE_BUSY' || code === 'SQLITE_BUSY_RECOVERY') {
      throw new StartError(
        `Another Vitrocept${whoOf(note)} works in the data folder ${root}. Use that one, end it first, or choose another folder: VITROCEPT_DATA=… npm start`,
      );
    }
    throw error;
  }
  writeFileSync(note, JSON.stringify({ process: process.pid }));
  return () => db.close();
}

function whoOf(note: string): string {
  try {
    return ` (process ${(JSON.parse(readFileSync(note, 'utf8')) as { process: number }).process})`;
  } catch {
    return '';
  }
}
