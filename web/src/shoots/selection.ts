import type { SheetFrame } from '@vitrocept/server';

/** What is chosen after a press on a frame: that one in or out, or with Shift all from the last pressed one to it. */
export function pressed(
  frames: readonly Pick<SheetFrame, 'id'>[],
  selected: ReadonlySet<string>,
  id: string,
  isRange: boolean,
  last: { current: string | null },
): ReadonlySet<string> {
  const next = new Set(selected);
  const from = isRange ? frames.findIndex((frame) => frame.id === last.current) : -1;
  if (from >= 0) {
    const to = frames.findIndex((frame) => frame.id === id);
    for (const frame of frames.slice(Math.min(from, to), Math.max(from, to) + 1)) next.add(frame.id);
  } else if (!next.delete(id)) next.add(id);
  last.current = id;
  return next;
}
