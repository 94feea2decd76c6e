import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { CoreError } from '@vitrocept/core';
import { threadFile } from '@vitrocept/files';
import type { Task } from './tasks';

type Answer<T> = { value: T } | { error: string; code: string; stack?: string };

/** Two may be reading frames: one more answers whoever looks. */
const LEAST_THREADS = 3;

/** Of objects, without pixels. A thread that needs more is ended, and its work fails with a sentence. */
const MOST_HEAP_MB = 1536;

function refusalOf(error: Error & { code?: string }): Error {
  if (error.code !== 'ERR_WORKER_OUT_OF_MEMORY') return error;
  return new CoreError('TOO_MUCH_MEMORY', 'This needs more memory than one piece of work may take, so it was ended.');
}

/** The server's worker threads. */
export interface Crew {
  /** With a signal the work is stopped when nobody waits for it any more. */
  run<T>(task: Task, signal?: AbortSignal): Promise<T>;
  readonly threads: number;
  close(): Promise<void>;
}

/** @param worker - Where each thread begins. */
export function hireCrew(
  worker = threadFile('worker', import.meta.url),
  threads = Math.max(LEAST_THREADS, availableParallelism()),
): Crew {
  const pool = new Piscina({
    ...worker,
    minThreads: 1,
    maxThreads: threads,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: MOST_HEAP_MB },
  });
  return {
    threads,
    async run<T>(task: Task, signal?: AbortSignal) {
      const answer = (await pool.run(task, signal ? { signal } : undefined).catch((error: Error) => {
        throw refusalOf(error);
      })) as Answer<T>;
      if ('error' in answer) throw new CoreError(answer.code, answer.error);
      return answer.value;
    },
    close: () => pool.destroy(),
  };
}
