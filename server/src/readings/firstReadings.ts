import type { FirstLook, LookedAfterFrame } from '@vitrocept/core';
import type { Background, Services } from '../services';
import { sampleFileOf } from '../originals/sampleFileOf';

/** A Reading under which the process ended this often is not begun again. */
const MOST_ATTEMPTS = 3;
const ENDED_OFTEN = 'Vitrocept ended several times while this frame was being read, so it is left alone.';
const RETRY_MS = 30_000;

/** Sorts every frame that came in, and looks after those that somebody asked for: one at a time, those first. */
export function firstReadings(services: () => Services): Background {
  let running: Promise<void> | null = null;
  async function takeAll(): Promise<void> {
    const { stores, crew, folder, log } = services();
    for (let next = stores.readings.nextWaiting(); next; next = stores.readings.nextWaiting()) {
      // Somebody waits for a render; nobody waits for these.
      await services().renders.idle();
      if (services().closing) return;
      const { frameId, state, attempts } = next;
      if (attempts >= MOST_ATTEMPTS) {
        stores.readings.failed(frameId, ENDED_OFTEN);
        continue;
      }
      stores.readings.begin(frameId);
      const frame = stores.frames.get(frameId)!;
      const file = sampleFileOf(folder, frame);
      try {
        const jpeg = frame.format === 'jpeg';
        if (state === 'waiting') {
          stores.readings.sorted(frameId, await crew.run<FirstLook>({ kind: 'triage', file, jpeg }));
        } else {
          stores.readings.done(frameId, await crew.run<LookedAfterFrame>({ kind: 'look-after', file, jpeg }));
        }
      } catch (error) {
        if (services().closing) {
          stores.readings.forgive(frameId);
          return;
        }
        log(`reading of ${frame.name}: ${(error as Error).message}`);
        stores.readings.failed(frameId, (error as Error).message);
      }
    }
  }
  return {
    wake() {
      running ??= takeAll()
        // A full disk or a locked database ends this round, not the process: the rest waits for the next.
        .catch((error: Error) => {
          if (services().closing) return;
          services().log(`readings: ${error.message}`);
          setTimeout(() => services().closing || services().readings.wake(), RETRY_MS).unref();
        })
        .finally(() => (running = null));
    },
    idle: () => running ?? Promise.resolve(),
  };
}
