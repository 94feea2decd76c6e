import type { Background, Services } from '../services';
import { LEASE_MS, type RoundJob } from '../db/rounds';
import { roundFrame } from './roundFrame';

/** Works through the frames of all rounds that go, one after the other; what is rendered by hand goes first. */
export interface RoundRunner extends Background {
  /** The frame under way is given up: it waits again, or is stopped where its round was. */
  interrupt(roundId: string): void;
}

const RETRY_MS = 30_000;
/** What is wrong with the disk is wrong with every frame: the round waits for a person. */
const OF_THE_DISK = /^(DISK_|ENOSPC|EROFS|EDQUOT|SQLITE_FULL|SQLITE_READONLY)/;

export function roundRunner(services: () => Services): RoundRunner {
  let running: Promise<void> | null = null;
  let current: { roundId: string; flag: Int32Array } | null = null;

  async function runAll(): Promise<void> {
    const { stores, renders } = services();
    for (;;) {
      await renders.idle();
      if (services().closing) return;
      const job = stores.rounds.take();
      for (const id of stores.rounds.through()) stores.rounds.setState(id, 'ended');
      if (!job) return;
      await runOne(job);
    }
  }

  async function runOne(job: RoundJob): Promise<void> {
    const { stores, log } = services();
    const stop = new SharedArrayBuffer(4);
    const flag = new Int32Array(stop);
    current = { roundId: job.roundId, flag };
    const heart = setInterval(() => stores.rounds.renew(job.id), LEASE_MS / 3);
    try {
      await roundFrame(services(), stores.rounds.get(job.roundId)!, job, stop);
    } catch (error) {
      // Begun again at the next start.
      if (services().closing) return;
      const { message, code = '' } = error as Error & { code?: string };
      if (Atomics.load(flag, 0) === 1) {
        if (stores.rounds.get(job.roundId)?.state === 'stopped') stores.rounds.stopped(job.id);
        else stores.rounds.putBack(job.id);
      } else if (OF_THE_DISK.test(code)) {
        log(`round ${job.roundId}: ${message}`);
        stores.rounds.putBack(job.id);
        stores.rounds.setState(job.roundId, 'paused', message);
      } else {
        log(`round ${job.roundId}, ${job.frameName}: ${message}`);
        stores.rounds.failed(job.id, message);
      }
    } finally {
      clearInterval(heart);
      current = null;
    }
  }

  return {
    wake() {
      running ??= runAll()
        // A locked database ends this turn, not the process: the rest waits for the next.
        .catch((error: Error) => {
          if (services().closing) return;
          services().log(`rounds: ${error.message}`);
          setTimeout(() => services().closing || services().rounds.wake(), RETRY_MS).unref();
        })
        .finally(() => {
          running = null;
        });
    },
    interrupt(roundId) {
      if (current?.roundId === roundId) Atomics.store(current.flag, 0, 1);
    },
    idle: () => running ?? Promise.resolve(),
  };
}
