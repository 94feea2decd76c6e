import type { AuditMap, Region } from '@vitrocept/core';
import { tileEngine } from '../surfaces/tileEngine';
import type { Layered } from '../surfaces/tileKeys';
import { drawTiles } from '../surfaces/useTiles';
import { DIFFERENCE_GAIN, HEIGHT, WIDTH, type Way } from './closeLookWays';
import { drawAudit } from './drawAudit';

export interface CloseLookPicture {
  readonly base: readonly Layered[];
  readonly finals: readonly Layered[];
  readonly view: Region;
  readonly scale: number;
  readonly way: Way;
  /** Where the divider stands, 0..1 of the width. */
  readonly share: number;
  readonly map: AuditMap | null;
  /** Only what is underneath is shown. */
  readonly isBaseOnly: boolean;
}

/** Draws the cell in the way it is compared. */
export function drawCloseLook(context: CanvasRenderingContext2D, picture: CloseLookPicture): void {
  const { base, finals, view, scale, way, share, map, isBaseOnly } = picture;
  context.fillStyle = '#8c8c8c';
  context.fillRect(0, 0, WIDTH, HEIGHT);
  drawTiles(context, base, view.x, view.y, scale);
  if (isBaseOnly) return;
  if (way === 'difference') {
    const before = context.getImageData(0, 0, WIDTH, HEIGHT);
    if (drawTiles(context, finals, view.x, view.y, scale)) showDifference(context, before);
    return;
  }
  const line = way === 'pair' ? WIDTH / 2 : way === 'divider' ? share * WIDTH : null;
  context.save();
  if (line !== null) {
    context.beginPath();
    context.rect(line, 0, WIDTH - line, HEIGHT);
    context.clip();
  }
  if (way === 'pair') {
    context.translate(WIDTH / 2, 0);
    context.fillRect(0, 0, WIDTH / 2, HEIGHT);
  }
  drawTiles(context, finals, view.x, view.y, scale);
  const audits = finals.map(({ key }) => tileEngine.auditOf(key)).filter((audit) => audit !== null);
  if (map) drawAudit(context, audits, view, scale, map);
  context.restore();
  if (line === null) return;
  context.fillStyle = '#ffffff';
  context.fillRect(Math.round(line) - 1, 0, 2, HEIGHT);
}

function showDifference(context: CanvasRenderingContext2D, before: ImageData): void {
  const after = context.getImageData(0, 0, WIDTH, HEIGHT);
  for (let i = 0; i < after.data.length; i += 4) {
    for (let c = 0; c < 3; c++) {
      after.data[i + c] = 128 + DIFFERENCE_GAIN * (after.data[i + c] - before.data[i + c]);
    }
  }
  context.putImageData(after, 0, 0);
}
