import type { ReactNode } from 'react';
import type { Figures, Prescription } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { AuditMarks } from './AuditMarks';
import { tileEngine } from '../surfaces/tileEngine';
import type { Column } from '../surfaces/tileKeys';
import { useCellPointer } from './useCellPointer';
import { useCellTiles } from './useCellTiles';

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

/** One cell of the Wall: a trial's pixels at a probe, unsmoothed, from the same tiles that a render would write. */
export function WallCell(props: WallCellProps) {
  const { frame, prescription, original, centre, magnification, width, height, rank, label, figures } = props;
  const { isUnnamed = false, staysDraft = false, foot, overlay, isEntry = false, onPan, onOpen } = props;
  const ratio = window.devicePixelRatio || 1;
  const scale = magnification / 100;
  const view = {
    x: Math.floor(centre.x - (width * ratio) / scale / 2),
    y: Math.floor(centre.y - (height * ratio) / scale / 2),
    width: Math.ceil((width * ratio) / scale) + 1,
    height: Math.ceil((height * ratio) / scale) + 1,
  };
  const { isOver, handlers } = useCellPointer(ratio / scale, onPan, onOpen);
  const showOriginal = props.showOriginal || ((props.showOriginalUnderPointer ?? false) && isOver);
  const tiles = { frame, prescription, original, view, scale, showOriginal, staysDraft, rank };
  const { canvas, state, isOriginal } = useCellTiles(tiles);
  const name = typeof state === 'string' ? state : 'failed';
  const placed = (u: number, v: number) => ({
    x: ((u - view.x) * scale) / ratio,
    y: ((v - view.y) * scale) / ratio,
  });
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
        {...handlers}
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
          {overlay(placed, scale / ratio)}
        </svg>
      )}
      {!isUnnamed && (
        <div className="cell-foot">
          {foot !== undefined ? (
            foot
          ) : isOriginal ? (
            <span className="figure">{Math.round(magnification)} %</span>
          ) : (
            <AuditMarks figures={figures} width={width} />
          )}
        </div>
      )}
    </div>
  );
}
