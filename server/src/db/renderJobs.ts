import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import {
  checkPrescription,
  HAND_OVER_NAME,
  type CopyWishes,
  type Prescription,
  type SaveFormat,
  type Stage,
} from '@vitrocept/core';

export type RenderState = 'queued' | 'running' | 'done' | 'failed' | 'stopped';

export interface RenderJob {
  readonly id: string;
  readonly frameId: string;
  readonly frameName: string;
  readonly format: SaveFormat;
  /** One, or several as pages of one file. */
  readonly stages: readonly Stage[];
  readonly quality: number;
  readonly wishes: CopyWishes;
  readonly state: RenderState;
  readonly tilesDone: number;
  readonly tilesAll: number;
  readonly queuedAt: string;
  readonly startedAt: string | null;
  readonly finishedAt: string | null;
  readonly fileName: string | null;
  readonly fileBytes: number | null;
  readonly error: string | null;
}

type RenderRow = Omit<RenderJob, 'stages' | 'wishes'> & { readonly stages: string; readonly wishes: string | null };

/** Before there was a choice. */
const AS_BEFORE: CopyWishes = { colour: 'as-original', metadata: 'all', ppi: null, namePattern: HAND_OVER_NAME };

const jobOf = (row: RenderRow): RenderJob => ({
  ...row,
  stages: JSON.parse(row.stages) as Stage[],
  wishes: row.wishes ? (JSON.parse(row.wishes) as CopyWishes) : AS_BEFORE,
});

const COLUMNS = `render_job.id, frame_id AS frameId, frame.name AS frameName, render_job.format, stages, quality, wishes, state,
  tiles_done AS tilesDone, tiles_all AS tilesAll, queued_at AS queuedAt, started_at AS startedAt,
  finished_at AS finishedAt, file_name AS fileName, file_bytes AS fileBytes, error`;
const FROM = 'FROM render_job JOIN frame ON frame.id = render_job.frame_id';

/** A render under which the process ended this often is not begun again by itself. */
const MOST_ATTEMPTS = 2;
const ENDED_TWICE =
  'Vitrocept ended twice while rendering this, so it is not tried again by itself. Is there enough memory? Try again by hand.';

export function renderJobStore(db: Database) {
  const all = db.prepare<[], RenderRow>(`SELECT ${COLUMNS} ${FROM} ORDER BY render_job.rowid DESC LIMIT 200`);
  const one = db.prepare<[string], RenderRow>(`SELECT ${COLUMNS} ${FROM} WHERE render_job.id = ?`);
  const plan = db.prepare<[string], { prescription: string }>('SELECT prescription FROM render_job WHERE id = ?');
  const next = db.prepare<[], { id: string }>(
    "SELECT id FROM render_job WHERE state = 'queued' ORDER BY rowid LIMIT 1",
  );
  const insert = db.prepare(
    `INSERT INTO render_job (id, frame_id, prescription, format, quality, stages, wishes, state, queued_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, 'queued', ?)`,
  );
  const upTo = db.prepare<[string], { count: number }>(
    'SELECT COUNT(*) AS count FROM render_job WHERE rowid <= (SELECT rowid FROM render_job WHERE id = ?)',
  );
  const begin = db.prepare(
    "UPDATE render_job SET state = 'running', started_at = ?, tiles_done = 0, error = NULL, attempts = attempts + 1 WHERE id = ?",
  );
  const progress = db.prepare('UPDATE render_job SET tiles_done = ?, tiles_all = ? WHERE id = ?');
  const finish = db.prepare(
    'UPDATE render_job SET state = ?, finished_at = ?, file_name = ?, file_bytes = ?, error = ? WHERE id = ?',
  );
  const requeue = db.prepare(
    "UPDATE render_job SET state = 'queued', tiles_done = 0, finished_at = NULL, error = NULL, attempts = 0 WHERE id = ?",
  );
  const interrupted = db.prepare("UPDATE render_job SET state = 'queued', tiles_done = 0 WHERE state = 'running'");
  const givenUp = db.prepare(
    "UPDATE render_job SET state = 'failed', finished_at = ?, error = ? WHERE state = 'running' AND attempts >= ?",
  );
  const forgive = db.prepare("UPDATE render_job SET attempts = attempts - 1 WHERE state = 'running'");
  const now = () => new Date().toISOString();
  return {
    all: () => all.all().map(jobOf),
    get(id: string): RenderJob | null {
      const row = one.get(id);
      return row ? jobOf(row) : null;
    },
    prescriptionOf: (id: string) => checkPrescription(JSON.parse(plan.get(id)!.prescription)),
    /** How many renders were asked for until this one, with it. */
    countUpTo: (id: string) => upTo.get(id)!.count,
    nextQueued: () => next.get()?.id ?? null,
    add(
      frameId: string,
      prescription: Prescription,
      format: SaveFormat,
      quality: number,
      stages: readonly Stage[] = ['recovered'],
      wishes: CopyWishes = AS_BEFORE,
    ): RenderJob {
      const id = randomUUID();
      const told = [JSON.stringify(stages), JSON.stringify(wishes)];
      insert.run(id, frameId, JSON.stringify(prescription), format, quality, ...told, now());
      return jobOf(one.get(id)!);
    },
    begin: (id: string) => begin.run(now(), id),
    progress: (id: string, done: number, total: number) => progress.run(done, total, id),
    done: (id: string, fileName: string, bytes: number) => finish.run('done', now(), fileName, bytes, null, id),
    failed: (id: string, error: string) => finish.run('failed', now(), null, null, error, id),
    stopped: (id: string) => finish.run('stopped', now(), null, null, null, id),
    requeue: (id: string) => requeue.run(id),
    /** What ran when the server last ended waits again; what it ended under twice is given up. */
    requeueInterrupted(): void {
      givenUp.run(now(), ENDED_TWICE, MOST_ATTEMPTS);
      interrupted.run();
    },
    /** A good end: what ran is not to blame for it. */
    forgive: () => void forgive.run(),
  };
}
