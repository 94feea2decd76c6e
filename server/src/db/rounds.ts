import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import {
  checkKept,
  checkPrescription,
  type KeptPrescription,
  type LookReason,
  type Prescription,
  type SaveFormat,
} from '@vitrocept/core';
import type { Judgement } from '@vitrocept/files';

export type RoundState = 'going' | 'paused' | 'stopped' | 'ended';
export type RoundJobState = 'waiting' | 'measuring' | 'judging' | 'rendering' | 'done' | 'failed' | 'stopped';
export type Outcome = 'accepted' | 'taken-back';

/** What a round is asked to be. */
export interface RoundWish {
  readonly kept: KeptPrescription;
  readonly frameIds: readonly string[];
  readonly format: SaveFormat;
  readonly quality: number;
  readonly namePattern: string;
  readonly folder: string;
  /** Longer side of what is written, px; null: as it is. */
  readonly longEdgePx: number | null;
}

export interface Round {
  readonly id: string;
  readonly kept: KeptPrescription;
  readonly format: SaveFormat;
  readonly quality: number;
  readonly namePattern: string;
  readonly folder: string;
  readonly longEdgePx: number | null;
  readonly state: RoundState;
  readonly note: string | null;
  readonly begunAt: string;
  readonly endedAt: string | null;
}

export interface RoundJob {
  readonly id: string;
  readonly roundId: string;
  readonly frameId: string;
  readonly frameName: string;
  readonly megapixels: number;
  readonly place: number;
  readonly state: RoundJobState;
  readonly reasons: readonly LookReason[];
  readonly judgement: Judgement | null;
  readonly fileName: string | null;
  readonly fileBytes: number | null;
  readonly outcome: Outcome | null;
  readonly error: string | null;
  readonly seconds: number | null;
}

/** How many frames of a round stand where. */
export interface RoundTally {
  readonly left: number;
  readonly done: number;
  readonly needsLook: number;
  readonly failed: number;
  readonly stopped: number;
}

/** How long those frames of a round took that are done, and what is left, of frames alike. */
export interface RoundPace {
  readonly openMegapixels: number;
  readonly doneMegapixels: number;
  readonly doneSeconds: number;
  /** Of the frames that are worked on at the moment: their size, and for how long already. */
  readonly underwayMegapixels: number;
  readonly underwaySeconds: number;
}

type RoundRow = Omit<Round, 'kept'> & { readonly kept: string };
type JobRow = Omit<RoundJob, 'reasons' | 'judgement'> & { readonly reasons: string; readonly judgement: string | null };

const roundOf = (row: RoundRow): Round => ({ ...row, kept: checkKept(JSON.parse(row.kept)) });
const jobOf = (row: JobRow): RoundJob => ({
  ...row,
  reasons: JSON.parse(row.reasons) as LookReason[],
  judgement: row.judgement ? (JSON.parse(row.judgement) as Judgement) : null,
});

const ROUND_COLUMNS = `id, kept, format, quality, name_pattern AS namePattern, folder,
  long_edge_px AS longEdgePx, state, note, begun_at AS begunAt,
  ended_at AS endedAt`;
const JOB_COLUMNS = `round_job.id, round_id AS roundId, frame_id AS frameId, frame.name AS frameName,
  frame.width * frame.height / 1e6 AS megapixels, round_job.place, round_job.state, reasons, judgement,
  file_name AS fileName, file_bytes AS fileBytes, outcome, error, seconds`;
const JOBS = 'FROM round_job JOIN frame ON frame.id = round_job.frame_id';
const UNDERWAY = "('measuring', 'judging', 'rendering')";
const OPEN = "('waiting', 'measuring', 'judging', 'rendering')";

/** Renewed while somebody works on a job; after so long without it the job may be begun again. */
export const LEASE_MS = 60_000;
/** A job under which the process ended this often is not begun again by itself. */
const MOST_ATTEMPTS = 3;
const ENDED_OFTEN = 'Vitrocept ended several times while working on this frame, so it is left alone.';

export function roundStore(db: Database) {
  const all = db.prepare<[], RoundRow>(`SELECT ${ROUND_COLUMNS} FROM round ORDER BY rowid DESC LIMIT 200`);
  const one = db.prepare<[string], RoundRow>(`SELECT ${ROUND_COLUMNS} FROM round WHERE id = ?`);
  const insert = db.prepare(
    `INSERT INTO round (id, place, kept, format, quality, name_pattern, folder, long_edge_px, state, begun_at)
     VALUES (?, (SELECT coalesce(max(place), 0) + 1 FROM round), ?, ?, ?, ?, ?, ?, 'going', ?)`,
  );
  const insertJob = db.prepare(
    "INSERT INTO round_job (id, round_id, frame_id, place, state) VALUES (?, ?, ?, ?, 'waiting')",
  );
  const jobs = db.prepare<[string], JobRow>(
    `SELECT ${JOB_COLUMNS} ${JOBS} WHERE round_id = ? ORDER BY round_job.place`,
  );
  const job = db.prepare<[string], JobRow>(`SELECT ${JOB_COLUMNS} ${JOBS} WHERE round_job.id = ?`);
  const nextJob = db.prepare<[string], { id: string; attempts: number }>(
    `SELECT round_job.id, attempts FROM round_job JOIN round ON round.id = round_job.round_id
     WHERE round.state = 'going'
       AND (round_job.state = 'waiting' OR (round_job.state IN ${UNDERWAY} AND leased_until < ?))
     ORDER BY round.place, round_job.place LIMIT 1`,
  );
  const begin = db.prepare(
    `UPDATE round_job SET state = 'measuring', leased_until = ?, attempts = attempts + 1, error = NULL, outcome = NULL,
       begun_at = ? WHERE id = ?`,
  );
  const renew = db.prepare(`UPDATE round_job SET leased_until = ? WHERE id = ? AND state IN ${UNDERWAY}`);
  const reach = db.prepare('UPDATE round_job SET state = ?, leased_until = ? WHERE id = ?');
  const adapt = db.prepare('UPDATE round_job SET prescription = ?, judgement = ? WHERE id = ?');
  const reserve = db.prepare('UPDATE round_job SET file_name = ? WHERE id = ?');
  const isReserved = db.prepare<[string], { one: number }>('SELECT 1 AS one FROM round_job WHERE file_name = ?');
  const finish = db.prepare(
    `UPDATE round_job SET state = 'done', leased_until = NULL, attempts = 0, reasons = ?, file_bytes = ?, ended_at = ?,
       seconds = ? WHERE id = ?`,
  );
  const end = db.prepare(
    'UPDATE round_job SET state = ?, leased_until = NULL, error = ?, ended_at = ?, file_name = NULL WHERE id = ?',
  );
  const back = db.prepare(
    "UPDATE round_job SET state = 'waiting', leased_until = NULL, attempts = max(0, attempts - 1) WHERE id = ?",
  );
  const freed = db.prepare(`UPDATE round_job SET leased_until = '' WHERE state IN ${UNDERWAY}`);
  const forgiven = db.prepare(`UPDATE round_job SET attempts = max(0, attempts - 1) WHERE state IN ${UNDERWAY}`);
  const setState = db.prepare('UPDATE round SET state = ?, note = ?, ended_at = ? WHERE id = ?');
  const stopWaiting = db.prepare(
    "UPDATE round_job SET state = 'stopped', ended_at = ? WHERE round_id = ? AND state = 'waiting'",
  );
  const again = db.prepare(
    "UPDATE round_job SET state = 'waiting', attempts = 0, error = NULL WHERE round_id = ? AND state IN ('failed', 'stopped')",
  );
  const tally = db.prepare<[string], RoundTally>(
    `SELECT
       count(*) FILTER (WHERE round_job.state IN ${OPEN}) AS left,
       count(*) FILTER (WHERE round_job.state = 'done') AS done,
       count(*) FILTER (WHERE round_job.state = 'done' AND reasons <> '[]' AND outcome IS NULL) AS needsLook,
       count(*) FILTER (WHERE round_job.state = 'failed') AS failed,
       count(*) FILTER (WHERE round_job.state = 'stopped') AS stopped
     ${JOBS} WHERE round_id = ?`,
  );
  // Frames of which it is known that there is nothing to recover are through in a moment.
  const paces = db.prepare<[string], RoundPace>(
    `SELECT
       coalesce(sum(frame.width * frame.height / 1e6) FILTER (WHERE round_job.state IN ${OPEN}), 0) AS openMegapixels,
       coalesce(sum(frame.width * frame.height / 1e6) FILTER (WHERE round_job.state = 'done'), 0) AS doneMegapixels,
       coalesce(sum(seconds) FILTER (WHERE round_job.state = 'done'), 0) AS doneSeconds,
       coalesce(sum(frame.width * frame.height / 1e6) FILTER (WHERE round_job.state IN ${UNDERWAY}), 0)
         AS underwayMegapixels,
       coalesce(sum((julianday('now') - julianday(round_job.begun_at)) * 86400)
         FILTER (WHERE round_job.state IN ${UNDERWAY}), 0) AS underwaySeconds
     ${JOBS} LEFT JOIN reading ON reading.frame_id = round_job.frame_id
     WHERE round_id = ?
     GROUP BY reading.state = 'done' AND json_extract(reading.sorted_as, '$.method') IS NULL`,
  );
  const through = db.prepare<[], { id: string }>(
    `SELECT id FROM round WHERE state = 'going'
       AND NOT EXISTS (SELECT 1 FROM round_job WHERE round_id = round.id AND round_job.state IN ${OPEN})`,
  );
  const outcome = db.prepare('UPDATE round_job SET outcome = ? WHERE id = ?');
  const plan = db.prepare<[string], { prescription: string | null }>('SELECT prescription FROM round_job WHERE id = ?');
  const first = db.prepare('UPDATE round SET place = (SELECT min(place) - 1 FROM round) WHERE id = ?');
  /** Wholly or not at all. */
  const atOnce =
    <A extends unknown[], R>(act: (...args: A) => R) =>
    (...args: A): R =>
      db.transaction(act)(...args);
  const now = () => new Date().toISOString();
  const lease = () => new Date(Date.now() + LEASE_MS).toISOString();

  return {
    all: () => all.all().map(roundOf),
    get(id: string): Round | null {
      const row = one.get(id);
      return row ? roundOf(row) : null;
    },
    jobsOf: (roundId: string) => jobs.all(roundId).map(jobOf),
    job(id: string): RoundJob | null {
      const row = job.get(id);
      return row ? jobOf(row) : null;
    },
    prescriptionOf(jobId: string): Prescription | null {
      const { prescription = null } = plan.get(jobId) ?? {};
      return prescription ? checkPrescription(JSON.parse(prescription)) : null;
    },
    add: atOnce((wish: RoundWish): Round => {
      const id = randomUUID();
      const { kept, frameIds, format, quality, namePattern, folder, longEdgePx } = wish;
      insert.run(id, JSON.stringify(kept), format, quality, namePattern, folder, longEdgePx, now());
      frameIds.forEach((frameId, place) => insertJob.run(randomUUID(), id, frameId, place));
      return roundOf(one.get(id)!);
    }),
    /** One frame more; a round that was through goes on. One that it holds already is not taken twice. */
    addFrame: atOnce((roundId: string, frameId: string): void => {
      const known = jobs.all(roundId);
      if (known.some((other) => other.frameId === frameId)) return;
      insertJob.run(randomUUID(), roundId, frameId, known.length);
      if (one.get(roundId)?.state === 'ended') setState.run('going', null, null, roundId);
    }),
    /** Takes the next job under a lease; null where none waits. One under which the process ended often is given up. */
    take: atOnce((): RoundJob | null => {
      for (let next = nextJob.get(now()); next; next = nextJob.get(now())) {
        if (next.attempts >= MOST_ATTEMPTS) {
          end.run('failed', ENDED_OFTEN, now(), next.id);
          continue;
        }
        begin.run(lease(), now(), next.id);
        return jobOf(job.get(next.id)!);
      }
      return null;
    }),
    renew: (jobId: string) => void renew.run(lease(), jobId),
    reach: (jobId: string, state: 'judging' | 'rendering') => void reach.run(state, lease(), jobId),
    adapted: (jobId: string, prescription: Prescription, judgement: Judgement | null) =>
      void adapt.run(JSON.stringify(prescription), judgement && JSON.stringify(judgement), jobId),
    reserve: (jobId: string, fileName: string) => void reserve.run(fileName, jobId),
    isReserved: (fileName: string) => isReserved.get(fileName) !== undefined,
    done: (jobId: string, reasons: readonly LookReason[], bytes: number | null, seconds: number) =>
      void finish.run(JSON.stringify(reasons), bytes, now(), seconds, jobId),
    failed: (jobId: string, error: string) => void end.run('failed', error, now(), jobId),
    stopped: (jobId: string) => void end.run('stopped', null, now(), jobId),
    /** To be begun again later: nothing was wrong with it. */
    putBack: (jobId: string) => void back.run(jobId),
    setState: atOnce((id: string, state: RoundState, note: string | null = null) => {
      setState.run(state, note, state === 'stopped' || state === 'ended' ? now() : null, id);
      if (state === 'stopped') stopWaiting.run(now(), id);
    }),
    /** What failed or was stopped waits again. */
    tryAgain: atOnce((id: string) => {
      again.run(id);
      setState.run('going', null, null, id);
    }),
    takeFirst: (id: string) => void first.run(id),
    tallyOf: (id: string) => tally.get(id)!,
    pacesOf: (id: string) => paces.all(id),
    /** Those under way of which nothing is left to do. */
    through: () => through.all().map(({ id }) => id),
    decide: (jobId: string, decided: Outcome | null) => void outcome.run(decided, jobId),
    /** No other process has the folder: whoever held a lease has ended. */
    freeLeases: () => void freed.run(),
    /** A good end: what was under way is not to blame for it. */
    forgive: () => void forgiven.run(),
  };
}
