import type { Reading } from '@vitrocept/core';
import type { Services } from '../services';
import type { Frame } from '../db/frames';
import type { FirstReading } from '../db/readings';
import type { Shoot } from '../db/shoots';

export interface FrameSummary extends Frame {
  readonly firstReading: FirstReading;
  readonly hasChoice: boolean;
}

export interface ShootSummary extends Shoot {
  readonly frameCount: number;
  readonly coverFrameIds: readonly string[];
  readonly piles: Readonly<Record<Reading['pile'] | 'unread', number>>;
}

export interface ShootDetail extends ShootSummary {
  readonly frames: readonly FrameSummary[];
}

export function frameSummary({ stores }: Services, frame: Frame): FrameSummary {
  return {
    ...frame,
    firstReading: stores.readings.get(frame.id),
    hasChoice: stores.prescriptions.hasChoice(frame.id),
  };
}

const COVER_FRAMES = 4;

export function shootSummary({ stores }: Services, shoot: Shoot): ShootSummary {
  const frames = stores.frames.inShoot(shoot.id);
  const piles = { 'good-as-is': 0, grainy: 0, soft: 0, 'beyond-recovery': 0, unread: 0 };
  for (const frame of frames) piles[stores.readings.get(frame.id).reading?.pile ?? 'unread']++;
  const spread = Math.max(1, Math.floor(frames.length / COVER_FRAMES));
  const coverFrameIds = frames
    .filter((_, i) => i % spread === 0)
    .slice(0, COVER_FRAMES)
    .map((frame) => frame.id);
  return { ...shoot, frameCount: frames.length, coverFrameIds, piles };
}
