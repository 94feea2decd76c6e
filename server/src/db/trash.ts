import type { Database } from 'better-sqlite3';

export interface TrashedFrame {
  readonly id: string;
  readonly name: string;
  readonly shootName: string;
  readonly removedAt: string;
}

export interface TrashedShoot {
  readonly id: string;
  readonly name: string;
  readonly frameCount: number;
  readonly removedAt: string;
}

const GONE = `SELECT f.id FROM frame f JOIN shoot s ON s.id = f.shoot_id
  WHERE f.removed_at IS NOT NULL OR s.removed_at IS NOT NULL`;

/** What was removed, until it is thrown away. */
export function trashStore(db: Database) {
  const frames = db.prepare<[], TrashedFrame>(
    `SELECT f.id, f.name, s.name AS shootName, f.removed_at AS removedAt FROM frame f JOIN shoot s ON s.id = f.shoot_id
     WHERE f.removed_at IS NOT NULL AND s.removed_at IS NULL ORDER BY f.removed_at DESC, f.name`,
  );
  const shoots = db.prepare<[], TrashedShoot>(
    `SELECT s.id, s.name, s.removed_at AS removedAt, (SELECT count(*) FROM frame WHERE shoot_id = s.id) AS frameCount
     FROM shoot s WHERE s.removed_at IS NOT NULL ORDER BY s.removed_at DESC`,
  );
  const files = db.prepare<[], { sha256: string }>(
    `SELECT DISTINCT sha256 FROM frame WHERE id IN (${GONE})
     UNION SELECT v.sha256 FROM outside_version v WHERE v.frame_id IN (${GONE})`,
  );
  const busy = db.prepare<[], { one: number }>(
    `SELECT 1 AS one FROM render_job WHERE state IN ('queued', 'running') AND frame_id IN (${GONE})
     UNION SELECT 1 FROM round_job WHERE state IN ('waiting', 'measuring', 'judging', 'rendering')
       AND frame_id IN (${GONE}) LIMIT 1`,
  );
  const perFrame = ['reading', 'prescription', 'render_job', 'outside_version', 'round_job'].map((table) =>
    db.prepare(`DELETE FROM ${table} WHERE frame_id IN (${GONE})`),
  );
  const theFrames = db.prepare(`DELETE FROM frame WHERE id IN (${GONE})`);
  const theShoots = db.prepare('DELETE FROM shoot WHERE removed_at IS NOT NULL');
  const throwAway = db.transaction(() => {
    const gone = files.all().map(({ sha256 }) => sha256);
    for (const statement of perFrame) statement.run();
    const { changes } = theFrames.run();
    theShoots.run();
    return { frames: changes, files: gone };
  });
  return {
    frames: () => frames.all(),
    shoots: () => shoots.all(),
    /** Something in the trash is still being worked on. */
    isBusy: () => busy.get() !== undefined,
    /** For good. Returns how many frames, and the files that they were of: some may belong to others as well. */
    empty: () => throwAway(),
  };
}
