import type { Prescription, Probe, Size } from '@vitrocept/core';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';

const ofProbes = (probes: (old: readonly Probe[]) => Probe[]) => (old: Prescription) => ({
  ...old,
  probes: probes(old.probes),
});

/** What can be done with probes, wherever they are drawn. */
export function useProbes(frame: Size) {
  const change = useFrameStore((state) => state.change);
  return {
    /** Returns the new probe's id. */
    place(x: number, y: number, name = ''): string {
      const probe = { id: newId(), name, ...within(frame, x, y) };
      change(
        ofProbes((old) => [...old, probe]),
        `probe ${probe.id}`,
      );
      return probe.id;
    },
    move(id: string, x: number, y: number): void {
      change(
        ofProbes((old) => old.map((probe) => (probe.id === id ? { ...probe, ...within(frame, x, y) } : probe))),
        `probe ${id}`,
      );
    },
    remove(id: string): void {
      change(ofProbes((old) => old.filter((probe) => probe.id !== id)));
    },
  };
}

function within({ width, height }: Size, x: number, y: number) {
  return {
    x: Math.min(width - 1, Math.max(0, Math.round(x))),
    y: Math.min(height - 1, Math.max(0, Math.round(y))),
  };
}
