/** A place on the frame that arrow keys move, where there is no hand on a mouse or pen. */
export interface KeyPoint {
  readonly x: number;
  readonly y: number;
  /** A stroke or shape was begun and follows it. */
  readonly isDown: boolean;
}

export type KeyAct = 'move' | 'down' | 'up' | 'press';

const ARROWS: Readonly<Record<string, readonly [number, number] | undefined>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * What a key does: arrows move by `stepPx`, with Shift ten times as far; Enter begins and ends what is drawn, or
 * presses once where nothing is drawn (`draws` false); Escape ends it. Null for keys that mean nothing here.
 */
export function afterKey(
  point: KeyPoint,
  { key, shiftKey }: { readonly key: string; readonly shiftKey: boolean },
  { width, height }: { readonly width: number; readonly height: number },
  stepPx: number,
  draws: boolean,
): { readonly point: KeyPoint; readonly act: KeyAct } | null {
  const by = ARROWS[key];
  if (by) {
    const step = stepPx * (shiftKey ? 10 : 1);
    const x = Math.min(width - 1, Math.max(0, point.x + by[0] * step));
    const y = Math.min(height - 1, Math.max(0, point.y + by[1] * step));
    return { point: { ...point, x, y }, act: 'move' };
  }
  if (key === 'Enter') {
    if (!draws) return { point, act: 'press' };
    return { point: { ...point, isDown: !point.isDown }, act: point.isDown ? 'up' : 'down' };
  }
  return key === 'Escape' && point.isDown ? { point: { ...point, isDown: false }, act: 'up' } : null;
}
