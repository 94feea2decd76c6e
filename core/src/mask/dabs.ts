import type { Dab } from './maskOperation';

/** Share of a dab's radius that is beyond doubt: its rim may lie over something else. */
export const DAB_CORE = 0.4;
/** The same where an outline is drawn: dabs that mend one lie half beyond it. */
export const DAB_CORE_AT_OUTLINE = 0.15;

/**
 * 1 where a dab says subject, −1 where it says not, else 0.
 *
 * @param core - Share of its radius that counts.
 */
export function sureFrom(dabs: readonly Dab[], width: number, height: number, core: number): Int8Array {
  const sure = new Int8Array(width * height);
  for (const { x, y, radius, isSubject } of dabs) {
    for (let v = Math.max(0, Math.ceil(y - radius)); v <= Math.min(height - 1, y + radius); v++) {
      for (let u = Math.max(0, Math.ceil(x - radius)); u <= Math.min(width - 1, x + radius); u++) {
        if (Math.hypot(u - x, v - y) <= Math.max(1, core * radius)) sure[v * width + u] = isSubject ? 1 : -1;
      }
    }
  }
  return sure;
}

/** The sample in the middle of a dab, the nearest one for a dab at the frame's side. */
export function middleOf({ x, y }: Dab, width: number, height: number): number {
  const inside = (value: number, length: number) => Math.min(length - 1, Math.max(0, Math.round(value)));
  return inside(y, height) * width + inside(x, width);
}
