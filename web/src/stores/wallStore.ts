import type { Stage } from '@vitrocept/core';
import { create } from 'zustand';

export const MAGNIFICATIONS = [100, 200, 300, 400, 800] as const;
export type Magnification = (typeof MAGNIFICATIONS)[number];

export type WallRoom =
  | { readonly name: 'wall' | 'which' | 'likeness' }
  | { readonly name: 'close'; readonly trialId: string; readonly probeId: string };

interface WallState {
  readonly magnification: Magnification;
  /** How far each probe's row was panned from its probe, px of the frame. */
  readonly pans: Readonly<Record<string, { readonly x: number; readonly y: number }>>;
  readonly selectedId: string | null;
  /** What every cell shows while its key is held. */
  readonly held: Stage | null;
  /** Only the cell under the pointer shows the original. */
  readonly isHoldingOne: boolean;
  /** The cell that is looked at closely, or the sitting of "Which is better?". */
  readonly room: WallRoom;
  readonly showsFromAfar: boolean;
  setMagnification(value: Magnification): void;
  pan(probeId: string, byX: number, byY: number): void;
  select(id: string | null): void;
  hold(held: Stage | null): void;
  holdOne(held: boolean): void;
  enter(room: WallRoom): void;
  setFromAfar(shown: boolean): void;
}

const REMEMBERED = 'vitrocept.magnification';
const remembered = MAGNIFICATIONS.find((value) => String(value) === sessionStorage.getItem(REMEMBERED));

/** How the Wall is looked at; nothing here changes a picture. */
export const useWallStore = create<WallState>()((set) => ({
  magnification: remembered ?? 300,
  pans: {},
  selectedId: null,
  held: null,
  isHoldingOne: false,
  room: { name: 'wall' },
  showsFromAfar: true,
  setMagnification(magnification) {
    sessionStorage.setItem(REMEMBERED, String(magnification));
    set({ magnification });
  },
  pan: (probeId, byX, byY) =>
    set(({ pans }) => {
      const { x, y } = pans[probeId] ?? { x: 0, y: 0 };
      return { pans: { ...pans, [probeId]: { x: x + byX, y: y + byY } } };
    }),
  select: (selectedId) => set({ selectedId }),
  hold: (held) => set({ held }),
  holdOne: (isHoldingOne) => set({ isHoldingOne }),
  enter: (room) => set({ room }),
  setFromAfar: (showsFromAfar) => set({ showsFromAfar }),
}));
