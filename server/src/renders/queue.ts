import { basename, extname, join } from 'node:path';
import { nameFrom, SAVE_FORMAT_DESCRIPTIONS, shortWords } from '@vitrocept/core';
import type { RenderQueue, Services } from '../services';
import type { RenderJob } from '../db/renderJobs';
import { freeName, withinBytes } from './freePlace';
import { renderFrame } from './renderFrame';

export function renderQueue(services: () => Services): RenderQueue {
  let running: Promise<void> | null = null;
  let current: { id: string; flag: Int32Array } | null = null;

  async function renderAll(): Promise<void> {
    const { stores, log } = services();
    for (let id = stores.renders.nextQueued(); id; id = stores.renders.nextQueued()) {
      if (services().closing) return;
      const stop = new SharedArrayBuffer(4);
      current = { id, flag: new Int32Array(stop) };
      try {
        stores.renders.begin(id);
        await renderJob(services(), stores.renders.get(id)!, stop);
      } catch (error) {
        if (services().closing) return;
        current = null;
        if (Atomics.load(new Int32Array(stop), 0) === 1) {
          stores.renders.stopped(id);
        } else {
          log(`render ${id}: ${(error as Error).message}`);
          stores.renders.failed(id, (error as Error).message);
        }
      }
      current = null;
    }
  }

  return {
    wake() {
      running ??= renderAll()
        // A full disk or a locked database ends this round, not the process: the rest waits for the next.
        .catch((error: Error) => {
          if (services().closing) return;
          services().log(`renders: ${error.message}`);
          setTimeout(() => services().closing || services().renders.wake(), RETRY_MS).unref();
        })
        .finally(() => (running = null));
    },
    stop(id) {
      const { stores } = services();
      if (current?.id === id) Atomics.store(current.flag, 0, 1);
      else if (stores.renders.get(id)?.state === 'queued') stores.renders.stopped(id);
    },
    idle: () => running ?? Promise.resolve(),
  };
}

/** Number and ending want a little of what a file system takes. */
const MOST_NAME_BYTES = 230;
const RETRY_MS = 30_000;

async function renderJob(services: Services, job: RenderJob, stop: SharedArrayBuffer): Promise<void> {
  const { stores, folder } = services;
  const { id, format, quality, stages, wishes } = job;
  const frame = stores.frames.get(job.frameId)!;
  const prescription = stores.renders.prescriptionOf(id);
  const stem = withinBytes(
    nameFrom(wishes.namePattern, {
      frame: withinBytes(basename(frame.name, extname(frame.name))),
      stage: stages.length > 1 ? 'stages' : stages[0],
      counter: String(stores.renders.countUpTo(id)).padStart(3, '0'),
      date: frame.exposure.takenAt?.slice(0, 10) ?? new Date().toISOString().slice(0, 10),
      prescription: shortWords(prescription),
    }),
    MOST_NAME_BYTES,
  );
  const { ending } = SAVE_FORMAT_DESCRIPTIONS[format];
  const fileName = freeName(folder.outbox, stem, ending, stores.rounds.isReserved);
  const bytes = await renderFrame(
    services,
    {
      id,
      frame,
      prescription,
      stages,
      format,
      quality,
      wishes,
      place: join(folder.outbox, fileName),
      mayReplace: false,
    },
    { stop, progress: (done, all) => stores.renders.progress(id, done, all) },
  );
  stores.renders.done(id, fileName, bytes);
}
