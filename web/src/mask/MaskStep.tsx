import { useEffect, useRef, useState } from 'react';
import { Circle, Image as KonvaImage, Layer } from 'react-konva';
import { plansOf, withOperations, type MaskOperation } from '@vitrocept/core';
import { MaskList } from '../parts/MaskList';
import { OperationList } from './OperationList';
import { useBrushStore, type MaskTool } from '../stores/brushStore';
import { useFrameStore } from '../stores/frameStore';
import { FacesLayer } from '../surfaces/FacesLayer';
import { FrameSurface, type Placement } from '../surfaces/FrameSurface';
import { OtherMasks } from './OtherMasks';
import { ShapeLayer } from './ShapeLayer';
import { moveInGroup } from '../input/arrowKeys';
import { LeftCard, useWorkspace } from '../parts/useWorkspace';
import { BrushTool } from './BrushTool';
import { EdgeTool } from './EdgeTool';
import { FaceTool } from './FaceTool';
import { RangeTool } from './RangeTool';
import { selectedShape, ShapeTool } from './ShapeTool';
import { SubjectTool } from './SubjectTool';
import { useAreas } from './useAreas';
import { useMaskKeys, VIEWS } from './useMaskKeys';
import { useMaskPointer } from './useMaskPointer';
import { useMaskVeil } from './useMaskVeil';
import { WholeTool } from './WholeTool';
import './mask.css';

const TOOLS: readonly (readonly [MaskTool, string])[] = [
  ['subject', 'Subject'],
  ['brush', 'Brush'],
  ['ranges', 'Tone, focus, colour'],
  ['shapes', 'Shapes'],
  ['edge', 'Edge'],
  ['faces', 'Faces'],
  ['whole', 'Whole mask'],
];

/** Where the correction acts: found, painted, drawn from ranges and shapes; everything else stays untouched. */
export function MaskStep() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { tool, brush, dab, sizePx, view, selected, set } = useBrushStore();
  const { operations } = prescription.mask;
  const faces = prescription.faces ?? [];
  const [left, setLeft] = useState<readonly string[]>([]);
  const chosen = faces.filter(({ id }) => !left.includes(id));
  const areas = useAreas(frame);
  const veil = useMaskVeil(frame, operations);
  const { onPointer, hand, drawn, isPainting } = useMaskPointer({ frame, operations, faces: chosen, areas, veil });
  useMaskKeys(areas);
  const others = plansOf(prescription).filter(({ mask }) => mask.id !== prescription.mask.id);

  // What was being adjusted is gone with the frame or the mask.
  const maskId = `${frame.id} ${prescription.mask.id}`;
  const lastMask = useRef(maskId);
  useEffect(() => {
    if (lastMask.current !== maskId) set({ selected: null });
    lastMask.current = maskId;
  }, [maskId, set]);

  const isEmpty = operations.length === 0;
  const showsBrush = hand !== null && (tool === 'brush' || tool === 'subject');
  const isTakingAway = tool === 'brush' ? brush === 'erase' : dab === 'not-this';
  const cursor = showsBrush ? 'none' : tool === 'ranges' || tool === 'shapes' ? 'crosshair' : 'default';
  return (
    <>
      <div className="stage">
        <FrameSurface
          frame={frame}
          label="The frame and its mask"
          cursor={cursor}
          onPointer={onPointer}
          draws={tool === 'brush' || tool === 'shapes'}
          overlay={(placement) => (
            <>
              <Layer ref={veil.layer} listening={false} imageSmoothingEnabled>
                {veil.isReady && view !== 'picture' && !(isEmpty && view === 'tracing' && !isPainting) && (
                  <KonvaImage
                    image={veil.canvas}
                    x={placement.x}
                    y={placement.y}
                    width={frame.width * placement.scale}
                    height={frame.height * placement.scale}
                  />
                )}
                {showsBrush && <BrushRing placement={placement} at={hand} sizePx={sizePx} isDashed={isTakingAway} />}
              </Layer>
              {view !== 'picture' && <OtherMasks frame={frame} placement={placement} plans={others} />}
              {tool === 'shapes' && (
                <ShapeLayer placement={placement} shape={drawn ?? selectedShape(operations, selected)} />
              )}
              {tool === 'faces' && <FacesLayer placement={placement} faces={chosen} own={null} />}
            </>
          )}
        />
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
            {others.length > 0
              ? 'This mask is empty: nothing is recovered under it yet.'
              : 'Find the subject, or paint over it. Without a mask the whole frame is recovered, its background too.'}
          </div>
        )}
      </div>
      <LeftCard>
        <MaskList prescription={prescription} />
        <OperationList
          operations={operations}
          selected={selected}
          onSelect={(at) => set(at === null ? { selected: null } : adjusting(operations[at], at))}
          onChange={(next) => change((old) => withOperations(old, () => next))}
        />
      </LeftCard>
      <section className="tray mask-tray" aria-label="Tray">
        <div className="tool-head">
          <div className="tool-tabs" role="tablist" aria-label="Tools" onKeyDown={moveInGroup}>
            {TOOLS.map(([name, label]) => (
              <button
                key={name}
                type="button"
                role="tab"
                aria-selected={tool === name}
                tabIndex={tool === name ? 0 : -1}
                onClick={() => set({ tool: name, selected: null })}
              >
                {label}
              </button>
            ))}
          </div>
          <span className="tool-view">
            <label htmlFor="mask-view">View</label>
            <select
              id="mask-view"
              value={view}
              onChange={(event) => set({ view: VIEWS.find(([name]) => name === event.target.value)![0] })}
            >
              {VIEWS.map(([name, label]) => (
                <option key={name} value={name}>
                  {label}
                </option>
              ))}
            </select>
          </span>
        </div>
        <div className="tool-panel" role="tabpanel" aria-label={TOOLS.find(([name]) => name === tool)![1]}>
          {tool === 'subject' && <SubjectTool areas={areas} />}
          {tool === 'brush' && <BrushTool />}
          {tool === 'ranges' && <RangeTool frame={frame} operations={operations} areas={areas} />}
          {tool === 'shapes' && <ShapeTool operations={operations} />}
          {tool === 'edge' && <EdgeTool operations={operations} areas={areas} />}
          {tool === 'faces' && (
            <FaceTool
              frame={frame}
              faces={faces}
              operations={operations}
              chosen={chosen}
              onChoose={(ids) => setLeft(faces.map(({ id }) => id).filter((id) => !ids.includes(id)))}
            />
          )}
          {tool === 'whole' && <WholeTool frame={frame} operations={operations} />}
        </div>
      </section>
    </>
  );
}

/** The tool that adjusts an act, set as the act is. */
function adjusting(operation: MaskOperation, at: number) {
  const { bands } = useBrushStore.getState();
  switch (operation.kind) {
    case 'area':
      switch (operation.from.kind) {
        case 'tone':
        case 'focus': {
          const { kind, band } = operation.from;
          return { selected: at, tool: 'ranges' as const, range: kind, bands: { ...bands, [kind]: band } };
        }
        case 'colour':
          return {
            selected: at,
            tool: 'ranges' as const,
            range: 'colour' as const,
            tolerance: operation.from.tolerance,
          };
        default:
          return { selected: null };
      }
    case 'radial':
    case 'linear':
      return { selected: at, tool: 'shapes' as const, shape: operation.kind };
    case 'grow':
    case 'feather':
      return { selected: at, tool: 'edge' as const };
    default:
      return { selected: null };
  }
}

interface BrushRingProps {
  readonly placement: Placement;
  readonly at: { readonly x: number; readonly y: number };
  readonly sizePx: number;
  readonly isDashed: boolean;
}

/** The brush as it would paint: light on dark, so that it shows on any ground. */
function BrushRing({ placement: { scale, x, y }, at, sizePx, isDashed }: BrushRingProps) {
  const ring = { x: x + (at.x + 0.5) * scale, y: y + (at.y + 0.5) * scale, radius: (sizePx / 2) * scale };
  return (
    <>
      <Circle {...ring} stroke="#fff" strokeWidth={2.5} />
      <Circle {...ring} stroke="#1C1F1E" strokeWidth={1} dash={isDashed ? [4, 4] : undefined} />
    </>
  );
}
