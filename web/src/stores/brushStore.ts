import { create } from 'zustand';

export type MaskView = 'tracing' | 'contours' | 'mask' | 'picture';
/** Painting, or pointing at what is the subject and what is not. */
export type BrushMode = 'add' | 'erase' | 'subject' | 'not-subject';

interface BrushState {
  readonly mode: BrushMode;
  /** Diameter, px of the frame. */
  readonly sizePx: number;
  readonly featherPercent: number;
  /** Of one stroke. */
  readonly opacityPercent: number;
  readonly view: MaskView;
  set(change: Partial<Pick<BrushState, 'mode' | 'sizePx' | 'featherPercent' | 'opacityPercent' | 'view'>>): void;
}

export const useBrushStore = create<BrushState>()((set) => ({
  mode: 'add',
  sizePx: 160,
  featherPercent: 30,
  opacityPercent: 100,
  view: 'tracing',
  set: (change) => set(change),
}));
