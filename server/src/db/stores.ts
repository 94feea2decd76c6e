import type { Database } from 'better-sqlite3';
import type { Changes } from '../events/changes';
import { frameStore, type Frame, type FrameChange } from './frames';
import { keptPrescriptionStore } from './keptPrescriptions';
import { handOffStore } from './handOffs';
import { noteStore } from './notes';
import { outsideVersionStore } from './outsideVersions';
import { practiceStore } from './practice';
import { prescriptionStore, type SavedPrescription } from './prescriptions';
import { readingStore } from './readings';
import { renderJobStore } from './renderJobs';
import { roundStore, type RoundJob } from './rounds';
import { sheetStore } from './sheets';
import { shootStore } from './shoots';
import { trashStore } from './trash';

export type Stores = ReturnType<typeof openStores>;

/** The same store; `tell` is called after each of these acts, with the first thing it was given and what it gave. */
function telling<S extends object>(
  store: S,
  acts: readonly (keyof S)[],
  tell: (first: never, answer: never) => void,
): S {
  const told = acts.map((act) => {
    const perform = store[act] as (...args: unknown[]) => unknown;
    return [
      act,
      (...args: unknown[]) => {
        const answer = perform(...args);
        tell(args[0] as never, answer as never);
        return answer;
      },
    ];
  });
  return { ...store, ...(Object.fromEntries(told) as Partial<S>) };
}

/** One store a table; what changes something that a page shows is told. */
export function openStores(db: Database, changes: Changes) {
  const frames = frameStore(db);
  const shootLooksOtherwise = (id: string) => {
    changes.tell({ kind: 'shoot', id });
    changes.tell({ kind: 'shoots' });
  };
  const shootOf = (frameId: string) => {
    const frame = frames.get(frameId);
    if (frame) shootLooksOtherwise(frame.shootId);
  };
  const renders = renderJobStore(db);
  const rounds = roundStore(db);
  const roundOfJob = (jobId: string) => {
    const job = rounds.job(jobId);
    if (job) changes.tell({ kind: 'round', id: job.roundId });
  };
  const renderActs = ['add', 'begin', 'progress', 'done', 'failed', 'stopped', 'requeue'] as const;
  return {
    shoots: telling(
      telling(shootStore(db), ['add'], () => changes.tell({ kind: 'shoots' })),
      ['rename', 'remove', 'restore'],
      shootLooksOtherwise,
    ),
    frames: {
      ...telling(frames, ['add'], (_, { shootId }: Frame) => shootLooksOtherwise(shootId)),
      change(wanted: readonly FrameChange[]) {
        const shootsOf = () => wanted.map(({ id }) => frames.get(id)?.shootId);
        const before = shootsOf();
        frames.change(wanted);
        for (const id of new Set([...before, ...shootsOf()])) if (id) shootLooksOtherwise(id);
      },
    },
    sheets: sheetStore(db),
    trash: telling(trashStore(db), ['empty'], () => changes.tell({ kind: 'shoots' })),
    readings: telling(readingStore(db), ['wait', 'sorted', 'done', 'failed'], shootOf),
    prescriptions: telling(prescriptionStore(db), ['save'], (id: string, saved: SavedPrescription | null) => {
      if (!saved) return;
      changes.tell({ kind: 'frame', id, revision: saved.revision });
      shootOf(id);
    }),
    renders: telling(renders, renderActs, () => changes.tell({ kind: 'renders' })),
    kept: telling(keptPrescriptionStore(db), ['add', 'rename', 'remove', 'restore'], () =>
      changes.tell({ kind: 'kept' }),
    ),
    rounds: telling(
      telling(
        telling(rounds, ['add', 'addFrame', 'setState', 'tryAgain', 'takeFirst'], () =>
          changes.tell({ kind: 'rounds' }),
        ),
        ['reach', 'adapted', 'done', 'failed', 'stopped', 'putBack', 'decide'],
        roundOfJob,
      ),
      ['take'],
      (_, job: RoundJob | null) => job && changes.tell({ kind: 'round', id: job.roundId }),
    ),
    handOffs: telling(handOffStore(db), ['add', 'change', 'remove', 'came', 'refused'], () =>
      changes.tell({ kind: 'hand-offs' }),
    ),
    practice: practiceStore(db),
    versions: outsideVersionStore(db),
    notes: noteStore(db),
  };
}
