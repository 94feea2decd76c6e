import type { Database } from 'better-sqlite3';

/** What the program has to remember of itself. */
export function noteStore(db: Database) {
  const one = db.prepare<[string], { value: string }>('SELECT value FROM note WHERE name = ?');
  const put = db.prepare(
    'INSERT INTO note (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value',
  );
  const drop = db.prepare<[string]>('DELETE FROM note WHERE name = ?');
  return {
    get: (name: string) => one.get(name)?.value ?? null,
    set: (name: string, value: string) => void put.run(name, value),
    forget: (name: string) => void drop.run(name),
  };
}
