import type { Reading } from '@vitrocept/core';
import type { Services } from '../services';
import { sampleFileOf } from '../originals/sampleFileOf';

/** Takes the first reading of every frame that waits for one, one after the other, in the background. */
export interface FirstReadings {
  wake(): void;
  /** Resolves when nothing waits any more. */
  idle(): Promise<void>;
}

export function firstReadings(services: () => Services): FirstReadings {
  let running: Promise<void> | null = null;
  async function takeAll(): Promise<void> {
    const { stores, crew, folder, log } = services();
    for (let [frameId] = stores.readings.waiting(); frameId; [frameId] = stores.readings.waiting()) {
      // Somebody waits for a render; nobody waits for these.
      await services().renders.idle();
      if (services().closing) return;
      const frame = stores.frames.get(frameId)!;
      const file = sampleFileOf(folder, frame);
      try {
        const task = { kind: 'reading', file, jpeg: frame.format === 'jpeg', mask: null, box: null } as const;
        stores.readings.done(frameId, await crew.run<Reading>(task));
      } catch (error) {
        if (services().closing) return;
        log(`reading of ${frame.name}: ${(error as Error).message}`);
        stores.readings.failed(frameId, (error as Error).message);
      }
    }
  }
  return {
    wake() {
      running ??= takeAll().finally(() => (running = null));
    },
    idle: () => running ?? Promise.resolve(),
  };
}
