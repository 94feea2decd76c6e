import type { Figures, Prescription, Region, Trial } from '@vitrocept/core';
import type { OutsideVersion } from '@vitrocept/server';
import type { WorkerFrame } from '@vitrocept/workers';
import type { Column } from '../surfaces/tileKeys';

export interface WallProps {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly columns: {
    readonly original: Prescription;
    readonly trials: readonly Prescription[];
    readonly outside: readonly Column[];
  };
  readonly versions: readonly OutsideVersion[];
  readonly selected: Trial | null;
  /** By column and probe; null while they are not known. */
  readonly figures: readonly (readonly (Figures | null)[])[];
  /** What cells show beneath, and alone while a key is held. */
  readonly beneath: Prescription;
  readonly isHeld: boolean;
  /** Seen whole from afar. */
  readonly subject: Region;
}
