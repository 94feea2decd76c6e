import type { FirstLook, LookedAfterFrame } from '@vitrocept/core';
import type { Background, Services } from '../services';
import type { WaitingFrame } from '../db/readings';
import { sampleFileOf } from '../originals/sampleFileOf';

/** A Reading under which the process ended this often is not begun again. */
const MOST_ATTEMPTS = 3;
const ENDED_OFTEN = 'Vitrocept ended several times while this frame was being read, so it is left alone.';
const RETRY_MS = 30_000;

/**
 * So many frames are in hand at a time: on two cores a whole shoot is sorted in half the time, and the page still
 * answers.
 */
const HANDS = 2;

/** Sorts every frame that came in, and looks after those that somebody asked for, those first. */
export function firstReadings(services: () => Services): Background {
  const hands = new Set<Promise<void>>();
  const inHand = new Set<string>();

  async function takeAll(): Promise<void> {
    const { stores } = services();
    for (;;) {
      // Somebody waits for a render; nobody waits for these.
      await services().renders.idle();
      if (services().closing) return;
      const next = stores.readings.nextWaiting(inHand);
      if (!next) return;
      inHand.add(next.frameId);
      try {
        if (!(await takeOne(next))) return;
      } finally {
        inHand.delete(next.frameId);
      }
    }
  }

  /** Whether there is more to be done. */
  async function takeOne({ frameId, state, attempts }: WaitingFrame): Promise<boolean> {
    const { stores, crew, folder, log } = services();
    if (attempts >= MOST_ATTEMPTS) {
      stores.readings.failed(frameId, ENDED_OFTEN);
      return true;
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
        return false;
      }
      log(`reading of ${frame.name}: ${(error as Error).message}`);
      stores.readings.failed(frameId, (error as Error).message);
    }
    return true;
  }

  function lendHand(): void {
    const hand = takeAll()
      // A full disk or a locked database ends this round, not the process: the rest waits for the next.
      .catch((error: Error) => {
        if (services().closing) return;
        services().log(`readings: ${error.message}`);
        setTimeout(() => services().closing || services().readings.wake(), RETRY_MS).unref();
      })
      .finally(() => hands.delete(hand));
    hands.add(hand);
  }

  return {
    wake() {
      while (hands.size < HANDS) lendHand();
    },
    async idle() {
      while (hands.size > 0) await Promise.all(hands);
    },
  };
}
