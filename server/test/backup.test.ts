import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { backUp, newestBackup } from '../src/db/backup';
import { openDatabase } from '../src/db/open';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'vitrocept-backup-'));
});
afterEach(() => rm(folder, { recursive: true }));

it('copies the database once a day, whole, and keeps seven days', async () => {
  const path = join(folder, 'vitrocept.sqlite');
  const db = openDatabase(path);
  db.prepare("INSERT INTO note (name, value) VALUES ('first', 'one')").run();
  for (let day = 1; day <= 9; day++) await backUp(db, path, new Date(Date.UTC(2026, 4, day, 12)));
  db.prepare("INSERT INTO note (name, value) VALUES ('second', 'two')").run();
  // Today's is there already.
  await backUp(db, path, new Date(Date.UTC(2026, 4, 9, 18)));
  db.close();
  const names = await readdir(join(folder, 'backups'));
  expect(names.sort()).toEqual([3, 4, 5, 6, 7, 8, 9].map((day) => `vitrocept-2026-05-0${day}.sqlite`));
  const copy = new Database(newestBackup(path)!, { readonly: true });
  expect(copy.prepare('SELECT name FROM note').all()).toEqual([{ name: 'first' }]);
  copy.close();
});

it('what an earlier version left is copied before it is brought to a newer form, once', async () => {
  const path = join(folder, 'vitrocept.sqlite');
  openDatabase(path).close();
  // Nothing was there before: nothing to copy.
  expect(await readdir(folder)).not.toContain('backups');
  const older = new Database(path);
  const newest = older.pragma('user_version', { simple: true }) as number;
  // The last form added tables only.
  older.exec("DROP TABLE practice_frame; INSERT INTO note (name, value) VALUES ('old', 'one')");
  older.pragma(`user_version = ${newest - 1}`);
  older.close();
  openDatabase(path).close();
  const copy = new Database(join(folder, 'backups', `before-form-${newest}.sqlite`), { readonly: true });
  expect(copy.pragma('user_version', { simple: true })).toBe(newest - 1);
  expect(copy.prepare('SELECT name FROM note').all()).toEqual([{ name: 'old' }]);
  copy.close();
});

it('a damaged database names the last good copy', async () => {
  const path = join(folder, 'vitrocept.sqlite');
  const db = openDatabase(path);
  await backUp(db, path, new Date(Date.UTC(2026, 4, 2)));
  db.close();
  await writeFile(
    path,
    'this is no database, but a letter that is long enough to look like a file of pages'.repeat(80),
  );
  expect(() => openDatabase(path)).toThrow(/damaged.*backups\/vitrocept-2026-05-02\.sqlite/);
  expect(newestBackup(join(folder, 'elsewhere', 'vitrocept.sqlite'))).toBeNull();
});
