import { useEffect, useId, useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react';
import { isUntouched, type Prescription, type Region } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from '../surfaces/tileEngine';
import { layer, type Column, type Layered } from '../surfaces/tileKeys';

export type CellState = 'current' | 'draft' | 'waiting' | { readonly failed: string };

interface CellTiles {
  readonly frame: WorkerFrame;
  readonly prescription: Column;
  readonly original: Prescription;
  readonly view: Region;
  /** Px of the canvas per px of the frame. */
  readonly scale: number;
  readonly showOriginal: boolean;
  readonly staysDraft: boolean;
  readonly rank: number;
}

/** Asks for the tiles of a cell as long as it stands, and draws them as they come. */
export function useCellTiles(props: CellTiles) {
  const { frame, prescription, original, view, scale, showOriginal, staysDraft, rank } = props;
  const owner = useId();
  const canvas = useRef<HTMLCanvasElement>(null);
  /** View and tiles that the canvas shows. */
  const drawn = useRef('');
  const [state, setState] = useState<CellState>('waiting');
  const version = useSyncExternalStore(tileEngine.subscribe, tileEngine.getVersion);
  const isOriginal = isUntouched(prescription) && !prescription.outside;
  // Only a recovery has a draft.
  const hasDraft = prescription.recovery !== null && !prescription.outside && !prescription.shows;
  const { x, y, width: viewWidth, height: viewHeight } = view;

  useEffect(() => {
    const region = { x, y, width: viewWidth, height: viewHeight };
    const base = layer(frame, original, region, 'final', rank);
    const finals =
      isOriginal || (staysDraft && hasDraft) ? [] : layer(frame, prescription, region, 'final', 2000 + rank);
    const isFinished = !(staysDraft && hasDraft) && finals.every((part) => tileEngine.pictureOf(part.key));
    const drafts = !hasDraft || isFinished ? [] : layer(frame, prescription, region, 'draft', 1000 + rank);
    tileEngine.want(
      owner,
      [...base, ...drafts, ...finals].map((part) => part.want),
    );
    return () => tileEngine.forget(owner);
  }, [frame, prescription, original, isOriginal, hasDraft, staysDraft, rank, owner, x, y, viewWidth, viewHeight]);

  useLayoutEffect(() => {
    const surface = canvas.current;
    const context = surface?.getContext('2d');
    if (!surface || !context) return;
    const region = { x, y, width: viewWidth, height: viewHeight };
    const base = layer(frame, original, region, 'final', 0);
    const finals = layer(frame, prescription, region, 'final', 0);
    const drafts = hasDraft ? layer(frame, prescription, region, 'draft', 0) : [];
    const showsBase = showOriginal || isOriginal;
    const above = showsBase ? [] : [...drafts, ...finals];
    const signature = `${x} ${y} ${scale} ${surface.width} ${surface.height}`;
    drawn.current = drawCell(context, { base, above, showsBase, x, y, scale }, signature, drawn.current);
    setState(stateOf(showsBase ? base : finals, showsBase ? [] : drafts));
  }, [version, frame, prescription, original, isOriginal, hasDraft, showOriginal, x, y, viewWidth, viewHeight, scale]);

  return { canvas, state, isOriginal };
}

const isThere = ({ key }: Layered) => tileEngine.pictureOf(key) !== null;

function stateOf(wanted: readonly Layered[], drafts: readonly Layered[]): CellState {
  const failed = wanted.map(({ key }) => tileEngine.failureOf(key)).find((sentence) => sentence !== null);
  if (failed) return { failed };
  if (wanted.every(isThere)) return 'current';
  return drafts.length > 0 && drafts.every(isThere) ? 'draft' : 'waiting';
}

interface CellPicture {
  readonly base: readonly Layered[];
  readonly above: readonly Layered[];
  readonly showsBase: boolean;
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

/** Draws what is there of a cell, unless the canvas shows it already; returns what it shows then. */
function drawCell(
  context: CanvasRenderingContext2D,
  { base, above, showsBase, x, y, scale }: CellPicture,
  signature: string,
  shown: string,
): string {
  const place = (parts: readonly Layered[]) => {
    for (const { key, tile } of parts) {
      const picture = tileEngine.pictureOf(key);
      if (!picture) continue;
      context.drawImage(picture, (tile.x - x) * scale, (tile.y - y) * scale, tile.width * scale, tile.height * scale);
    }
  };
  const found = [...base, ...above].filter(isThere).map(({ key }) => key);
  const content = [signature, showsBase, ...found].join('\n');
  // Tiles of other cells come and go: this one is drawn again only where its own pixels changed.
  if (content === shown) return shown;
  const isSameView = shown.startsWith(`${signature}\nfalse`);
  // Seen from afar pixels are gathered, never from near.
  context.imageSmoothingEnabled = scale < 1;
  context.imageSmoothingQuality = 'high';
  // While a changed trial has nothing new yet, its last pixels stay and are marked; they are never shown at another
  // place.
  if (!isSameView || showsBase || above.some(isThere)) {
    context.fillStyle = '#8c8c8c';
    context.fillRect(0, 0, context.canvas.width, context.canvas.height);
    place(base);
  }
  place(above);
  return content;
}
