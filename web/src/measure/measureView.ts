import { create } from 'zustand';

/** What is drawn over the frame in the Measure step. */
interface MeasureView {
  readonly showsMap: boolean;
  readonly showsClipping: boolean;
  setShowsMap(shown: boolean): void;
  setShowsClipping(shown: boolean): void;
}

export const useMeasureView = create<MeasureView>((set) => ({
  showsMap: true,
  showsClipping: false,
  setShowsMap: (showsMap) => set({ showsMap }),
  setShowsClipping: (showsClipping) => set({ showsClipping }),
}));
