import { rm } from 'node:fs/promises';
import {
  atStage,
  changesGrid,
  frameRegionFor,
  needsFrameGuide,
  sizeAfter,
  tilesTouching,
  wholeOf,
  type CopyWishes,
  type Prescription,
  type Region,
  type SaveFormat,
  type Size,
  type Stage,
} from '@vitrocept/core';
import { howMade, makePlainTiff, type PlainTiff } from '@vitrocept/files';
import type { Task } from '../crew/tasks';
import type { Frame } from '../db/frames';
import { sampleFileOf } from '../originals/sampleFileOf';
import type { Services } from '../services';

export interface FrameRender {
  /** Names what is under way in the data folder. */
  readonly id: string;
  readonly frame: Frame;
  readonly prescription: Prescription;
  /** One, or several as pages of one file. */
  readonly stages: readonly Stage[];
  readonly format: SaveFormat;
  readonly quality: number;
  readonly wishes: CopyWishes;
  /** A file there is replaced only if `mayReplace`. */
  readonly place: string;
  readonly mayReplace: boolean;
}

export interface RenderWatch {
  /** Not 0: stop. */
  readonly stop: SharedArrayBuffer;
  progress(done: number, all: number): void;
  /** Waited for before every tile: others may go first. */
  giveWay?(): Promise<void>;
  /** Looked at before it is thrown away: the last stage on the frame's own grid, 16 bits, or linear light in 32. */
  rendered?(result: PlainTiff): Promise<void>;
}

const BETWEEN_STEPS_MS = 200;

/** Renders a frame through the crew and writes the file; resolves with the bytes written. */
export async function renderFrame(
  { crew, folder }: Pick<Services, 'crew' | 'folder'>,
  render: FrameRender,
  { stop, progress, giveWay, rendered }: RenderWatch,
): Promise<number> {
  const { id, frame, prescription: whole, stages: wanted, format, quality, wishes, place, mayReplace } = render;
  const file = sampleFileOf(folder, frame);
  const flag = new Int32Array(stop);
  const isStopped = () => Atomics.load(flag, 0) === 1;
  const stages = await Promise.all(
    wanted.map(async (stage) => {
      const prescription = atStage(whole, stage);
      const size = sizeAfter(prescription, frame);
      const pictureTiles = pictureTilesOf(prescription, size);
      // What lies outside the crop is not asked for, unless somebody looks at the frame's own px.
      const seen = rendered ? wholeOf(frame) : frameRegionFor(prescription, frame, wholeOf(size));
      const tiles =
        pictureTiles.length > 0
          ? tilesTouching(seen, frame)
          : await crew.run<Region[]>({ kind: 'tiles', file, prescription });
      return { stage, prescription, tiles, size, pictureTiles };
    }),
  );
  const all = stages.reduce((sum, { tiles, pictureTiles }) => sum + tiles.length + pictureTiles.length, 0);
  // Once, or every thread would make it.
  if (stages.some(({ prescription }) => needsFrameGuide(prescription))) await crew.run({ kind: 'guide', file });
  let done = 0;
  let told = 0;
  /** Every step is a row written: more often than the page asks is not worth it. */
  const tell = () => {
    if (done < all && performance.now() - told < BETWEEN_STEPS_MS) return;
    told = performance.now();
    progress(done, all);
  };
  tell();
  /** All tasks, spread over the crew; each counts as one step. */
  const runAll = async (tasks: readonly Task[]): Promise<void> => {
    const waiting = [...tasks];
    const takeOne = async (): Promise<void> => {
      for (let task = waiting.shift(); task && !isStopped(); task = waiting.shift()) {
        await giveWay?.();
        await crew.run(task);
        done++;
        tell();
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
    const path = folder.working(`${id}-${name}`);
    working.push(path);
    return { path, width: size.width, height: size.height, channels: frame.channels, bits };
  };
  try {
    for (const { stage, prescription, tiles, size, pictureTiles } of stages) {
      const result = pictureIn(stage, size, 16);
      pages.push({ name: stage, result });
      const onFrame = pictureTiles.length > 0 ? pictureIn(`${stage}-linear`, frame, 32) : result;
      if (pictureTiles.length > 0) makePlainTiff(onFrame);
      else await crew.run({ kind: 'begin', file, result: onFrame });
      await runAll(tiles.map((tile) => ({ kind: 'tile', file, prescription, tile, result: onFrame, stop })));
      if (stage === stages.at(-1)!.stage) await rendered?.(onFrame);
      if (pictureTiles.length === 0) continue;
      makePlainTiff(result);
      await runAll(
        pictureTiles.map((tile) => ({ kind: 'picture', file, prescription, tile, linear: onFrame, result })),
      );
      await rm(onFrame.path, { force: true });
    }
    const { name: originalName, sha256 } = frame;
    const told = stages.at(-1)!.prescription;
    const stage = stages.length > 1 ? 'all stages' : stages[0].stage;
    const how = howMade({ originalName, originalSha256: sha256, stage, prescription: told }, new Date());
    const task = { kind: 'encode', file, pages, format, quality, wishes, how, place, mayReplace } as const;
    return await untilStopped((signal) => crew.run<number>(task, signal), isStopped);
  } finally {
    for (const path of working) await rm(path, { force: true });
  }
}

/** Ends one long task where somebody says stop, which the task itself does not look at. */
async function untilStopped<T>(run: (signal: AbortSignal) => Promise<T>, isStopped: () => boolean): Promise<T> {
  const ending = new AbortController();
  const looking = setInterval(() => isStopped() && ending.abort(), BETWEEN_STEPS_MS);
  try {
    return await run(ending.signal);
  } finally {
    clearInterval(looking);
  }
}

/** Empty where the finished picture has the frame's own px. */
const pictureTilesOf = (prescription: Prescription, size: Size): Region[] =>
  changesGrid(prescription) ? tilesTouching(wholeOf(size), size) : [];
