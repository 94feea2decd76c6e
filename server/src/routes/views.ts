import type { Services } from '../services';
import type { Frame } from '../db/frames';
import type { FirstReading } from '../db/readings';
import type { PileCounts, SheetFrame } from '../db/sheets';
import type { Shoot } from '../db/shoots';

export interface FrameSummary extends Frame {
  readonly firstReading: FirstReading;
  readonly hasChoice: boolean;
}

export interface ShootSummary extends Shoot {
  readonly frameCount: number;
  readonly coverFrameIds: readonly string[];
  readonly piles: PileCounts;
}

export interface ShootDetail extends ShootSummary {
  readonly frames: readonly SheetFrame[];
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
  const piles = stores.sheets.pilesOf(shoot.id);
  const frameCount = Object.values(piles).reduce((sum, count) => sum + count, 0);
  return { ...shoot, frameCount, coverFrameIds: stores.sheets.coversOf(shoot.id, COVER_FRAMES), piles };
}
