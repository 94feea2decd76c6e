import { existsSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { rm } from 'node:fs/promises';
import {
  atStage,
  changesGrid,
  SAVE_FORMAT_DESCRIPTIONS,
  sizeAfter,
  tilesTouching,
  wholeOf,
  type Prescription,
  type Region,
  type Size,
} from '@vitrocept/core';
import { makePlainTiff, type PlainTiff } from '@vitrocept/files';
import type { Task } from '../crew/tasks';
import type { RenderQueue, Services } from '../services';
import type { RenderJob } from '../db/renderJobs';
import { sampleFileOf } from '../originals/sampleFileOf';

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
        await renderOne(services(), stores.renders.get(id)!, stop);
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

const RETRY_MS = 30_000;

async function renderOne(services: Services, job: RenderJob, stop: SharedArrayBuffer): Promise<void> {
  const { stores, crew, folder } = services;
  const frame = stores.frames.get(job.frameId)!;
  const file = sampleFileOf(folder, frame);
  const flag = new Int32Array(stop);
  const isStopped = () => Atomics.load(flag, 0) === 1;
  const stages = await Promise.all(
    job.stages.map(async (stage) => {
      const prescription = atStage(stores.renders.prescriptionOf(job.id), stage);
      const tiles = await crew.run<Region[]>({ kind: 'tiles', file, prescription });
      const size = sizeAfter(prescription, frame);
      return { stage, prescription, tiles, size, pictureTiles: pictureTilesOf(prescription, size) };
    }),
  );
  const all = stages.reduce((sum, { tiles, pictureTiles }) => sum + tiles.length + pictureTiles.length, 0);
  let done = 0;
  stores.renders.progress(job.id, 0, all);
  /** All tasks, spread over the crew; each counts as one step. */
  const runAll = async (tasks: readonly Task[]): Promise<void> => {
    const waiting = [...tasks];
    const takeOne = async (): Promise<void> => {
      for (let task = waiting.shift(); task && !isStopped(); task = waiting.shift()) {
        await crew.run(task);
        stores.renders.progress(job.id, ++done, all);
      }
    };
    const results = await Promise.allSettled(Array.from({ length: crew.threads }, takeOne));
    const failed = results.find((result) => result.status === 'rejected');
    if (failed) throw failed.reason;
    if (isStopped()) throw new Error('Stopped.');
  };
  const pages: { name: string; result: PlainTiff }[] = [];
  const working: string[] = [];
  const pictureIn = (name: string, size: Size, bits: 16 | 32): PlainTiff => {
    const path = folder.working(`${job.id}-${name}`);
    working.push(path);
    return { path, width: size.width, height: size.height, channels: frame.channels, bits };
  };
  try {
    for (const { stage, prescription, tiles, size, pictureTiles } of stages) {
      const result = pictureIn(stage, size, 16);
      pages.push({ name: stage, result });
      const onFrame = pictureTiles.length > 0 ? pictureIn(`${stage}-linear`, frame, 32) : result;
      await crew.run({ kind: 'begin', file, result: onFrame });
      await runAll(tiles.map((tile) => ({ kind: 'tile', file, prescription, tile, result: onFrame, stop })));
      if (pictureTiles.length === 0) continue;
      makePlainTiff(result);
      await runAll(
        pictureTiles.map((tile) => ({ kind: 'picture', file, prescription, tile, linear: onFrame, result })),
      );
      await rm(onFrame.path, { force: true });
    }
    const name = job.stages.length > 1 ? 'stages' : job.stages[0];
    const place = freePlace(folder.outbox, frame.name, name, SAVE_FORMAT_DESCRIPTIONS[job.format].ending);
    const { format, quality } = job;
    const bytes = await crew.run<number>({ kind: 'encode', file, pages, format, quality, place });
    stores.renders.done(job.id, basename(place), bytes);
  } finally {
    for (const path of working) await rm(path, { force: true });
  }
}

/** Empty where the finished picture has the frame's own px. */
const pictureTilesOf = (prescription: Prescription, size: Size): Region[] =>
  changesGrid(prescription) ? tilesTouching(wholeOf(size), size) : [];

/** File systems take 255 bytes for a name; stage, number and ending want some of them. */
const MOST_STEM_BYTES = 200;

/** The beginning of a text that has so many bytes at most, no character cut in two. */
function withinBytes(text: string, most: number): string {
  let bytes = 0;
  let kept = '';
  for (const character of text) {
    bytes += Buffer.byteLength(character);
    if (bytes > most) break;
    kept += character;
  }
  return kept;
}

/** A name that nothing in the outbox has yet: name-recovered, name-recovered-2, … */
function freePlace(outbox: string, frameName: string, stage: string, ending: string): string {
  const stem = `${withinBytes(basename(frameName, extname(frameName)), MOST_STEM_BYTES)}-${stage}`;
  for (let number = 1; ; number++) {
    const place = join(outbox, `${stem}${number === 1 ? '' : `-${number}`}${ending}`);
    if (!existsSync(place)) return place;
  }
}
