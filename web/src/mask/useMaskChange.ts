import { underLocal, type Mask } from '@vitrocept/core';
import { useFrameStore, type Act } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';

/** Changes the mask that the tools work on: the frame's mask at work, or that of a local change. */
export function useMaskChange(): (act: Act, merge?: string) => void {
  const change = useFrameStore((state) => state.change);
  const localId = useLightStore((state) => state.localId);
  return (act, merge) => change((old) => underLocal(old, localId, act), merge);
}

/** The mask that the tools work on now. */
export function maskInHand(): Mask {
  const prescription = useFrameStore.getState().prescription!;
  const { localId } = useLightStore.getState();
  const local = prescription.finishing?.localChanges.find(({ mask }) => mask.id === localId);
  return local?.mask ?? prescription.mask;
}
