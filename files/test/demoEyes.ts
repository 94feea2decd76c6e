import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { AcceptedReading } from '@vitrocept/core';
import { DEMO_FRAMES, eyeRegion, gainsOf, numberOf, opened, planOf, recoveredOver } from '../../bench/src/demoFrames';

interface Row {
  readonly reading: AcceptedReading;
  readonly eye: number;
  readonly subject: number;
}

/** What `npm run bench -- demo --write` found, whole frames, everything Automatic: the table of docs/measurements. */
export const TABLE = JSON.parse(
  readFileSync(new URL('../golden/demoReadings.json', import.meta.url), 'utf8'),
) as Record<string, Row>;

const WITHIN_DB = 0.3;

/**
 * Holds frames to the table: recovered by the Reading that is stored with it (a new one takes half a minute a frame),
 * in the tiles round the eye.
 */
export function holdEyes(numbers: readonly string[]): void {
  describe('demo frames by the stored Reading, round the eye', () => {
    it.each(numbers)('%s gains what the table says', async (number) => {
      const frame = DEMO_FRAMES.find((one) => numberOf(one) === number)!;
      const { reading, eye } = TABLE[number];
      const plan = planOf(reading);
      if (!plan) {
        expect(eye).toBe(0);
        return;
      }
      const open = await opened(frame);
      const after = await recoveredOver(open.picture, plan, open.mask, eyeRegion(frame));
      expect(Math.abs(gainsOf(frame, open, after).eye - eye)).toBeLessThan(WITHIN_DB);
    });
  });
}
