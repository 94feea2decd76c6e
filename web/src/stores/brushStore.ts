import { create } from 'zustand';
import type { CombineMode, Handles } from '@vitrocept/core';

export type MaskView = 'tracing' | 'contours' | 'mask' | 'picture';
export const MASK_TOOLS = ['subject', 'brush', 'ranges', 'shapes', 'edge', 'faces', 'whole'] as const;
export type MaskTool = (typeof MASK_TOOLS)[number];
export type RangeKind = 'tone' | 'focus' | 'colour';
export type ShapeKind = 'radial' | 'linear';

interface BrushSettings {
  readonly tool: MaskTool;
  readonly brush: 'add' | 'erase';
  /** What a press in the picture says of the subject, or that it is looped. */
  readonly dab: 'loop' | 'this' | 'not-this';
  /** Diameter, px of the frame. */
  readonly sizePx: number;
  readonly featherPercent: number;
  /** Of one stroke. */
  readonly opacityPercent: number;
  readonly followsEdges: boolean;
  readonly range: RangeKind;
  readonly bands: { readonly tone: Handles; readonly focus: Handles };
  /** ΔE00. */
  readonly tolerance: number;
  readonly shape: ShapeKind;
  readonly shapeFeatherPercent: number;
  /** How ranges and shapes join what is there. */
  readonly combine: CombineMode;
  readonly view: MaskView;
  /** Place in the mask's list of the act that is being adjusted. */
  readonly selected: number | null;
}

interface BrushState extends BrushSettings {
  set(change: Partial<BrushSettings>): void;
}

/** The hand on the mask: which tool it holds, and how that is set. */
export const useBrushStore = create<BrushState>()((set) => ({
  tool: 'subject',
  brush: 'add',
  dab: 'this',
  sizePx: 160,
  featherPercent: 30,
  opacityPercent: 100,
  followsEdges: false,
  range: 'tone',
  bands: { tone: [0.05, 0.2, 0.7, 0.9], focus: [0.4, 0.6, 1, 1] },
  tolerance: 15,
  shape: 'radial',
  shapeFeatherPercent: 50,
  combine: 'add',
  view: 'tracing',
  selected: null,
  set: (change) => set(change),
}));
