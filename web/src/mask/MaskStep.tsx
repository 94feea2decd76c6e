import { useEffect, useRef, useState, type ReactNode } from 'react';
import { plansOf, withOperations, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { MaskList } from '../parts/MaskList';
import { OperationList } from './OperationList';
import { ProposedNote } from '../parts/ProposedNote';
import { useBrushStore } from '../stores/brushStore';
import { FrameSurface } from '../surfaces/FrameSurface';
import { LeftCard, useWorkspace } from '../parts/useWorkspace';
import { useAreas } from './useAreas';
import { useMaskChange } from './useMaskChange';
import { useMaskKeys } from './useMaskKeys';
import { useMaskPointer } from './useMaskPointer';
import { useMaskVeil } from './useMaskVeil';
import { adjusting } from './adjusting';
import { MaskOverlay } from './MaskOverlay';
import { MaskTray } from './MaskTray';
import './mask.css';

/** The mask of the frame at work. */
export const MaskStep = () => <MaskRoom {...useWorkspace()} />;

interface MaskRoomProps {
  readonly frame: FrameDetail;
  /** With the mask that is worked on as the one at work. */
  readonly prescription: Prescription;
  /** What stands at the left in place of the frame's masks, for a mask that is not one of them. */
  readonly children?: ReactNode;
}

/** Where something acts: found, painted, drawn from ranges and shapes; everything else stays untouched. */
export function MaskRoom({ frame, prescription, children }: MaskRoomProps) {
  const change = useMaskChange();
  const { tool, dab, selected, set } = useBrushStore();
  const { operations } = prescription.mask;
  const faces = prescription.faces ?? [];
  const [left, setLeft] = useState<readonly string[]>([]);
  const chosen = faces.filter(({ id }) => !left.includes(id));
  const areas = useAreas(frame);
  const veil = useMaskVeil(frame, operations);
  const pointer = useMaskPointer({ frame, operations, faces: chosen, areas, veil });
  useMaskKeys(areas);
  const others = children ? [] : plansOf(prescription).filter(({ mask }) => mask.id !== prescription.mask.id);

  // What was being adjusted is gone with the frame or the mask.
  const maskId = `${frame.id} ${prescription.mask.id}`;
  const lastMask = useRef(maskId);
  useEffect(() => {
    if (lastMask.current !== maskId) set({ selected: null });
    lastMask.current = maskId;
  }, [maskId, set]);

  const isEmpty = operations.length === 0;
  const isLooping = tool === 'subject' && dab === 'loop';
  const showsBrush = pointer.hand !== null && (tool === 'brush' || (tool === 'subject' && !isLooping));
  const cursor = showsBrush ? 'none' : tool === 'ranges' || tool === 'shapes' || isLooping ? 'crosshair' : 'default';
  return (
    <>
      <div className="stage">
        <FrameSurface
          frame={frame}
          label="The frame and its mask"
          cursor={cursor}
          onPointer={pointer.onPointer}
          draws={tool === 'brush' || tool === 'shapes' || isLooping}
          overlay={(placement) => <MaskOverlay {...{ frame, placement, operations, others, chosen, veil, pointer }} />}
        />
        {!children && (
          <div className="mask-proposed">
            <ProposedNote prescription={prescription} parts={['mask']}>
              The subject as it was found: a proposal.
            </ProposedNote>
          </div>
        )}
        <MaskHints areas={areas} veil={veil} isEmpty={isEmpty} hasOthers={others.length > 0} />
      </div>
      <LeftCard>
        {children ?? <MaskList prescription={prescription} />}
        <OperationList
          operations={operations}
          selected={selected}
          onSelect={(at) => set(at === null ? { selected: null } : adjusting(operations[at], at))}
          onChange={(next) => change((old) => withOperations(old, () => next))}
        />
      </LeftCard>
      <MaskTray {...{ frame, faces, operations, chosen, setLeft, areas }} />
    </>
  );
}

interface MaskHintsProps {
  readonly areas: ReturnType<typeof useAreas>;
  readonly veil: ReturnType<typeof useMaskVeil>;
  readonly isEmpty: boolean;
  readonly hasOthers: boolean;
}

/** What is under way, what failed, or what to do first. */
function MaskHints({ areas, veil, isEmpty, hasOthers }: MaskHintsProps) {
  return (
    <>
      {veil.failure && (
        <div className="stage-hint text-damaged" role="alert">
          The mask could not be drawn: {veil.failure}{' '}
          <button type="button" className="link-button" onClick={veil.again}>
            Try again
          </button>
        </div>
      )}
      {areas.status && (
        <div className="stage-hint" role="status">
          {areas.status}
        </div>
      )}
      {isEmpty && !areas.status && (
        <div className="stage-hint">
          {hasOthers
            ? 'This mask is empty: nothing is recovered under it yet.'
            : 'Find the subject, or paint over it. Without a mask the whole frame is recovered, its background too.'}
        </div>
      )}
    </>
  );
}
