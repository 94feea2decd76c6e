import type { Database } from 'better-sqlite3';
import type { Reading } from '@vitrocept/core';

export interface FirstReading {
  readonly state: 'waiting' | 'done' | 'failed';
  readonly reading: Reading | null;
  readonly error: string | null;
}

interface Row {
  readonly state: FirstReading['state'];
  readonly body: string | null;
  readonly error: string | null;
}

export function readingStore(db: Database) {
  const one = db.prepare<[string], Row>('SELECT state, body, error FROM reading WHERE frame_id = ?');
  const next = db.prepare<[], { frameId: string; attempts: number }>(
    "SELECT frame_id AS frameId, attempts FROM reading WHERE state = 'waiting' ORDER BY rowid LIMIT 1",
  );
  const begin = db.prepare('UPDATE reading SET attempts = attempts + 1 WHERE frame_id = ?');
  const forgive = db.prepare('UPDATE reading SET attempts = attempts - 1 WHERE frame_id = ?');
  const put = db.prepare(
    `INSERT INTO reading (frame_id, state, body, error) VALUES (?, ?, ?, ?)
     ON CONFLICT (frame_id) DO UPDATE SET state = excluded.state, body = excluded.body, error = excluded.error`,
  );
  return {
    get(frameId: string): FirstReading {
      const row = one.get(frameId);
      if (!row) return { state: 'waiting', reading: null, error: null };
      return { state: row.state, reading: row.body ? (JSON.parse(row.body) as Reading) : null, error: row.error };
    },
    nextWaiting: () => next.get() ?? null,
    begin: (frameId: string) => begin.run(frameId),
    /** A good end: the Reading is not to blame that it was not finished. */
    forgive: (frameId: string) => forgive.run(frameId),
    wait: (frameId: string) => put.run(frameId, 'waiting', null, null),
    done: (frameId: string, reading: Reading) => put.run(frameId, 'done', JSON.stringify(reading), null),
    failed: (frameId: string, error: string) => put.run(frameId, 'failed', null, error),
  };
}
