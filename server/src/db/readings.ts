import type { Database } from 'better-sqlite3';
import {
  sortedAs,
  type FirstLook,
  type LookedAfterFrame,
  type Proposal,
  type Reading,
  type SortedAs,
} from '@vitrocept/core';

export interface FirstReading {
  /** Sorted: pile, rough cause and size and noise are known; the Reading over the subject is to come. */
  readonly state: 'waiting' | 'sorted' | 'done' | 'failed';
  readonly reading: Reading | null;
  /** Null before the frame was looked after, and of frames that came in before that was done. */
  readonly proposal: Proposal | null;
  readonly error: string | null;
}

interface Row {
  readonly state: FirstReading['state'];
  readonly body: string | null;
  readonly proposal: string | null;
  readonly error: string | null;
}

export interface WaitingFrame {
  readonly frameId: string;
  readonly state: 'waiting' | 'sorted';
  readonly attempts: number;
}

export function readingStore(db: Database) {
  const one = db.prepare<[string], Row>('SELECT state, body, proposal, error FROM reading WHERE frame_id = ?');
  // Whoever is looked at comes first, and is looked after at once; all others are only sorted.
  const next = db.prepare<[number], WaitingFrame>(
    `SELECT frame_id AS frameId, state, attempts FROM reading WHERE state = 'waiting' OR (state = 'sorted' AND wanted_at IS NOT NULL)
     ORDER BY wanted_at IS NULL, wanted_at DESC, state = 'sorted', rowid LIMIT ?`,
  );
  const begin = db.prepare('UPDATE reading SET attempts = attempts + 1 WHERE frame_id = ?');
  const forgive = db.prepare('UPDATE reading SET attempts = attempts - 1 WHERE frame_id = ?');
  const want = db.prepare("UPDATE reading SET wanted_at = ? WHERE frame_id = ? AND state IN ('waiting', 'sorted')");
  const put = db.prepare(
    `INSERT INTO reading (frame_id, state, body, proposal, sorted_as) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (frame_id) DO UPDATE SET state = excluded.state, body = excluded.body, proposal = excluded.proposal,
       sorted_as = excluded.sorted_as, error = NULL, attempts = 0`,
  );
  const fail = db.prepare(
    // What sorting found is kept: it is better than nothing.
    `UPDATE reading SET state = CASE WHEN body IS NULL THEN 'failed' ELSE 'done' END, error = ? WHERE frame_id = ?`,
  );
  const sortedText = db.prepare<[string], { text: string | null }>(
    'SELECT sorted_as AS text FROM reading WHERE frame_id = ?',
  );
  const placeOf = (frameId: string) => (JSON.parse(sortedText.get(frameId)?.text ?? 'null') as SortedAs | null)?.place;
  return {
    get(frameId: string): FirstReading {
      const row = one.get(frameId);
      if (!row) return { state: 'waiting', reading: null, proposal: null, error: null };
      const parsed = <T>(text: string | null) => (text ? (JSON.parse(text) as T) : null);
      return {
        state: row.state,
        reading: parsed<Reading>(row.body),
        proposal: parsed<Proposal>(row.proposal),
        error: row.error,
      };
    },
    /** The next that nobody has in hand. */
    nextWaiting: (inHand: ReadonlySet<string>) =>
      next.all(inHand.size + 1).find(({ frameId }) => !inHand.has(frameId)) ?? null,
    begin: (frameId: string) => begin.run(frameId),
    /** A good end: the Reading is not to blame that it was not finished. */
    forgive: (frameId: string) => forgive.run(frameId),
    wait: (frameId: string) => put.run(frameId, 'waiting', null, null, null),
    /** Somebody looks at the frame: it is taken before the others. */
    want: (frameId: string) => want.run(new Date().toISOString(), frameId),
    sorted: (frameId: string, { reading, over, place }: FirstLook) =>
      put.run(frameId, 'sorted', JSON.stringify(reading), null, JSON.stringify(sortedAs(reading, over, place))),
    done(frameId: string, { reading, proposal }: LookedAfterFrame) {
      // Without a place on the subject the one that sorting found stays.
      const place = proposal.probes[0] ?? placeOf(frameId);
      const sorted = JSON.stringify(sortedAs(reading, proposal.over, place));
      put.run(frameId, 'done', JSON.stringify(reading), JSON.stringify(proposal), sorted);
    },
    failed: (frameId: string, error: string) => fail.run(error, frameId),
  };
}
