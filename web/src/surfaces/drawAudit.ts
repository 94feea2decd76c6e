import { eachSquare, levelOfByte, MAP_STRIDE, NOT_CHECKABLE, type Region, type TileAudit } from '@vitrocept/core';

const CHECK = '#f0b429';
const DAMAGED = '#ff4d4d';

/**
 * Draws over the pixels where the photograph does not back them: one stroke through a square to check, a cross through a
 * damaged one. Shape tells them apart, colour helps.
 */
export function drawAudit(
  context: CanvasRenderingContext2D,
  audits: readonly TileAudit[],
  view: Region,
  scale: number,
): void {
  const side = MAP_STRIDE * scale;
  context.lineWidth = Math.max(1, scale / 4);
  for (const audit of audits) {
    eachSquare(audit.region, view, MAP_STRIDE, (i, x, y) => {
      if (audit.kind[i] === NOT_CHECKABLE) return;
      const level = levelOfByte(audit.unproven[i]);
      if (level < 1) return;
      const left = (x - MAP_STRIDE / 2 - view.x) * scale;
      const top = (y - MAP_STRIDE / 2 - view.y) * scale;
      context.strokeStyle = level < 2 ? CHECK : DAMAGED;
      context.beginPath();
      context.moveTo(left, top + side);
      context.lineTo(left + side, top);
      if (level >= 2) {
        context.moveTo(left, top);
        context.lineTo(left + side, top + side);
      }
      context.stroke();
    });
  }
}
