import { create } from 'zustand';

export const LIGHT_GROUPS = ['light', 'colour', 'contrast', 'lens'] as const;
export type LightGroup = (typeof LIGHT_GROUPS)[number];
export const FINISH_GROUPS = ['frame', 'eye', 'whole', 'mend'] as const;
export type FinishGroup = (typeof FINISH_GROUPS)[number];

interface LightState {
  /** Corrections are shown in every step. */
  readonly isLit: boolean;
  readonly marksClipping: boolean;
  readonly group: LightGroup;
  readonly finishing: FinishGroup;
  /** The mask of this local change is at work in the mask's tools; null: the frame's own masks. */
  readonly localId: string | null;
  set(change: Partial<Omit<LightState, 'set'>>): void;
}

/** How light is looked at, and which of its tools lie open. */
export const useLightStore = create<LightState>()((set) => ({
  isLit: true,
  marksClipping: false,
  group: 'light',
  finishing: 'frame',
  localId: null,
  set: (change) => set(change),
}));
