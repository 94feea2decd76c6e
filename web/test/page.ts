import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';
import { emptyPrescription, type AcceptedReading, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../src/api/queries';
import { useFrameStore } from '../src/stores/frameStore';
import { useWallStore } from '../src/stores/wallStore';

/** A page with one frame open, for tests of its parts: the server takes every save. */
export const FRAME = {
  id: 'frame',
  shootId: 'shoot',
  name: 'frame.jpg',
  width: 400,
  height: 300,
  channels: 3,
  bits: 8,
  profile: 'sRGB',
} as unknown as FrameDetail;

export const READING = {
  method: 'missed-focus',
  blurSizePx: 7,
  directionDeg: 0,
  auto: true,
  noise: [
    { a: 0, b: 1e-4 },
    { a: 0, b: 2e-4 },
    { a: 0, b: 3e-4 },
  ],
  noiseFloor: [1e-5, 1e-5, 1e-5],
  sizes: [],
  measured: {
    method: 'missed-focus',
    blurSizePx: 7,
    directionDeg: 0,
    runnerUp: 'straight-movement',
    runnerUpSizePx: 9,
    runnerUpDirectionDeg: 40,
    confidence: 0.9,
    noisePercent: 1,
    over: { kind: 'mask', key: '' },
  },
} as unknown as AcceptedReading;

export function openPage(change: (old: Prescription) => Prescription = (old) => old): void {
  const saved = { revision: 3, prescription: change({ ...emptyPrescription(), reading: READING }) };
  useFrameStore.getState().open({ ...FRAME, saved } as FrameDetail);
}

export const plan = (): Prescription => useFrameStore.getState().prescription!;

vi.stubGlobal('fetch', async () => Response.json({ revision: 4 }));
afterEach(() => {
  cleanup();
  useFrameStore.getState().forgetPage();
  useWallStore.setState(useWallStore.getInitialState());
});
