import { DRIFT_STRIDE, eachLevel, MAP_STRIDE, type AuditMap, type Region, type TileAudit } from '@vitrocept/core';

const LEAST_MARK_PX = 9;
const CHECK = '#f0b429';
const DAMAGED = '#ff4d4d';

/**
 * Draws one map of the audit over the pixels: one stroke through a square to check, a cross through a
 * damaged one. Shape tells them apart, colour helps.
 */
export function drawAudit(
  context: CanvasRenderingContext2D,
  audits: readonly TileAudit[],
  view: Region,
  scale: number,
  map: AuditMap,
): void {
  // Marks of a size that still shows what lies under them.
  const own = map === 'drift' ? DRIFT_STRIDE : MAP_STRIDE;
  const stride = own * Math.max(1, Math.ceil(LEAST_MARK_PX / (own * scale)));
  const side = stride * scale;
  const marks = new Map<string, { x: number; y: number; level: number }>();
  for (const audit of audits) {
    eachLevel(audit, map, view, (level, x, y) => {
      if (level < 1) return;
      const mark = { x: Math.floor(x / stride) * stride, y: Math.floor(y / stride) * stride, level };
      const key = `${mark.x} ${mark.y}`;
      if (level > (marks.get(key)?.level ?? 0)) marks.set(key, mark);
    });
  }
  context.lineWidth = 1;
  for (const { x, y, level } of marks.values()) {
    const left = (x - view.x) * scale;
    const top = (y - view.y) * scale;
    context.strokeStyle = level < 2 ? CHECK : DAMAGED;
    context.beginPath();
    context.moveTo(left, top + side);
    context.lineTo(left + side, top);
    if (level >= 2) {
      context.moveTo(left, top);
      context.lineTo(left + side, top + side);
    }
    context.stroke();
  }
}
