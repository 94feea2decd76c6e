import { useEffect, useRef } from 'react';
import { isTyping } from '../input/keys';
import { useBrushStore, type MaskView } from '../stores/brushStore';
import type { Areas } from './useAreas';

export const VIEWS: readonly (readonly [MaskView, string])[] = [
  ['tracing', 'Tracing paper'],
  ['contours', 'Contours'],
  ['mask', 'Plain mask'],
  ['picture', 'Picture only'],
];

/** Keys of the Mask step. */
export function useMaskKeys(areas: Areas): void {
  const findAnew = useRef(areas.findSubject);
  useEffect(() => {
    findAnew.current = areas.findSubject;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey) return;
      const { sizePx, view, followsEdges, set } = useBrushStore.getState();
      const next = VIEWS[(VIEWS.findIndex(([name]) => name === view) + 1) % VIEWS.length][0];
      const act = {
        p: () => set({ tool: 'brush', brush: 'add' }),
        x: () => set({ tool: 'brush', brush: 'erase' }),
        e: () => set({ tool: 'brush', followsEdges: !followsEdges }),
        t: () => set({ tool: 'subject', dab: 'this' }),
        n: () => set({ tool: 'subject', dab: 'not-this' }),
        l: () => set({ tool: 'subject', dab: 'loop' }),
        s: () => void findAnew.current([]),
        '[': () => set({ sizePx: Math.max(2, Math.round(sizePx / 1.2)) }),
        ']': () => set({ sizePx: Math.min(2000, Math.round(sizePx * 1.2)) }),
        v: () => set({ view: next }),
      }[event.key.toLowerCase()];
      act?.();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
