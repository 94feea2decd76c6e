import { useEffect, useId, useLayoutEffect, useRef, useState, useSyncExternalStore, type ReactNode } from 'react';
import { isUntouched, type Figures, type Prescription, type Region } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { AuditMarks } from './AuditMarks';
import { tileEngine } from '../surfaces/tileEngine';
import { layer, type Column, type Layered } from '../surfaces/tileKeys';

export interface WallCellProps {
  readonly frame: WorkerFrame;
  /** What the cell shows; nothing done means the original. */
  readonly prescription: Column;
  readonly original: Prescription;
  readonly centre: { readonly x: number; readonly y: number };
  readonly magnification: number;
  readonly width: number;
  readonly height: number;
  readonly showOriginal: boolean;
  /** While the pointer is over this cell it shows the original. */
  readonly showOriginalUnderPointer?: boolean;
  /** Place in the order of computing. */
  readonly rank: number;
  readonly label: string;
  /** Where the Tab key enters a grid; arrow keys go on from there. */
  readonly isEntry?: boolean;
  /** What the audit says at this probe; null while it is not known, or for the original. */
  readonly figures: Figures | null;
  /** Seen from afar a draft tells enough: it stays one, and says so. */
  readonly staysDraft?: boolean;
  /** Under the cell, in place of the audit's marks. */
  readonly foot?: ReactNode;
  /** Drawn over the pixels, in px of the cell: `place` says where px of the frame lie, `scale` how large they are. */
  overlay?(place: (x: number, y: number) => { x: number; y: number }, scale: number): ReactNode;
  /** Nothing may tell which trial it is. */
  readonly isUnnamed?: boolean;
  onOpen?(): void;
  onPan(byX: number, byY: number): void;
}

type CellState = 'current' | 'draft' | 'waiting' | { readonly failed: string };

/** One cell of the Wall: a trial's pixels at a probe, unsmoothed, from the same tiles that a render would write. */
export function WallCell(props: WallCellProps) {
  const {
    frame,
    prescription,
    original,
    centre,
    magnification,
    width,
    height,
    showOriginal: showsAllOriginals,
    showOriginalUnderPointer = false,
    rank,
    label,
    figures,
    isUnnamed = false,
    staysDraft = false,
    foot,
    overlay,
    isEntry = false,
    onPan,
    onOpen,
  } = props;
  const owner = useId();
  const canvas = useRef<HTMLCanvasElement>(null);
  /** View and tiles that the canvas shows. */
  const drawn = useRef('');
  const [state, setState] = useState<CellState>('waiting');
  const [isOver, setIsOver] = useState(false);
  const showOriginal = showsAllOriginals || (showOriginalUnderPointer && isOver);
  const version = useSyncExternalStore(tileEngine.subscribe, tileEngine.getVersion);
  const ratio = window.devicePixelRatio || 1;
  const scale = magnification / 100;
  const view: Region = {
    x: Math.floor(centre.x - (width * ratio) / scale / 2),
    y: Math.floor(centre.y - (height * ratio) / scale / 2),
    width: Math.ceil((width * ratio) / scale) + 1,
    height: Math.ceil((height * ratio) / scale) + 1,
  };
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
    const isComplete = (parts: readonly Layered[]) => parts.every(({ key }) => tileEngine.pictureOf(key));
    const place = (parts: readonly Layered[]) => {
      for (const { key, tile } of parts) {
        const picture = tileEngine.pictureOf(key);
        if (!picture) continue;
        context.drawImage(picture, (tile.x - x) * scale, (tile.y - y) * scale, tile.width * scale, tile.height * scale);
      }
    };
    const base = layer(frame, original, region, 'final', 0);
    const finals = layer(frame, prescription, region, 'final', 0);
    const drafts = hasDraft ? layer(frame, prescription, region, 'draft', 0) : [];
    const signature = `${x} ${y} ${scale} ${surface.width} ${surface.height}`;
    const showsBase = showOriginal || isOriginal;
    const above = showsBase ? [] : [...drafts, ...finals];
    const found = [...base, ...above].filter(({ key }) => tileEngine.pictureOf(key)).map(({ key }) => key);
    const content = [signature, showsBase, ...found].join('\n');
    // Tiles of other cells come and go: this one is drawn again only where its own pixels changed.
    if (content !== drawn.current) {
      const sameView = drawn.current.startsWith(`${signature}\nfalse`);
      // Seen from afar pixels are gathered, never from near.
      context.imageSmoothingEnabled = scale < 1;
      context.imageSmoothingQuality = 'high';
      const anything = above.some(({ key }) => tileEngine.pictureOf(key));
      // While a changed trial has nothing new yet, its last pixels stay and are marked; they are never shown at another place.
      if (!sameView || showsBase || anything) {
        context.fillStyle = '#8c8c8c';
        context.fillRect(0, 0, surface.width, surface.height);
        place(base);
      }
      place(above);
      drawn.current = content;
    }
    const failure = (showsBase ? base : finals)
      .map((part) => tileEngine.failureOf(part.key))
      .find((sentence) => sentence !== null);
    const isDrafted = drafts.length > 0 && isComplete(drafts);
    const next = isComplete(showsBase ? base : finals) ? 'current' : isDrafted && !showsBase ? 'draft' : 'waiting';
    setState(failure ? { failed: failure } : next);
  }, [version, frame, prescription, original, isOriginal, hasDraft, showOriginal, x, y, viewWidth, viewHeight, scale]);

  const drag = useRef<{ x: number; y: number } | null>(null);
  const name = typeof state === 'string' ? state : 'failed';
  return (
    <div className={`wall-cell is-${name}`} style={{ width }} data-state={name}>
      <canvas
        ref={canvas}
        width={Math.round(width * ratio)}
        height={Math.round(height * ratio)}
        style={{ width, height }}
        role="img"
        aria-label={label}
        tabIndex={isEntry ? 0 : -1}
        onKeyDown={(event) => {
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
          const step = ((event.shiftKey ? 80 : 8) * ratio) / scale;
          if (event.altKey && by) onPan(by[0] * step, by[1] * step);
          else if (event.key === 'Enter' && onOpen) onOpen();
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerMove={(event) => {
          if (!drag.current) return;
          onPan(((drag.current.x - event.clientX) * ratio) / scale, ((drag.current.y - event.clientY) * ratio) / scale);
          drag.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerEnter={() => setIsOver(true)}
        onPointerLeave={() => setIsOver(false)}
        onDoubleClick={onOpen}
        onPointerUp={() => (drag.current = null)}
        onPointerCancel={() => (drag.current = null)}
      />
      {name !== 'current' && !showOriginal && (
        <span className="cell-note">{name === 'draft' ? 'draft' : name === 'failed' ? 'failed' : 'updating'}</span>
      )}
      {typeof state === 'object' && (
        <button type="button" className="cell-failure" onClick={() => tileEngine.retry()}>
          {state.failed} Try again.
        </button>
      )}
      {overlay && !showOriginal && (
        <svg className="cell-overlay" width={width} height={height} aria-hidden>
          {overlay((u, v) => ({ x: ((u - x) * scale) / ratio, y: ((v - y) * scale) / ratio }), scale / ratio)}
        </svg>
      )}
      {!isUnnamed && (
        <div className="cell-foot">
          {foot !== undefined ? (
            foot
          ) : isOriginal ? (
            <span className="figure">{Math.round(magnification)} %</span>
          ) : (
            <AuditMarks figures={figures} />
          )}
        </div>
      )}
    </div>
  );
}
