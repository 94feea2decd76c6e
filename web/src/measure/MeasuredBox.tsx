import { useEffect, useRef } from 'react';
import type Konva from 'konva';
import { Layer, Rect, Transformer } from 'react-konva';
import { centreBox, type Box } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import type { Placement } from '../surfaces/FrameSurface';

export function insideFrame(box: Box, frame: { width: number; height: number }): Box {
  const width = Math.min(frame.width, Math.max(64, Math.round(box.width)));
  const height = Math.min(frame.height, Math.max(64, Math.round(box.height)));
  return {
    x: Math.round(Math.min(frame.width - width, Math.max(0, box.x))),
    y: Math.round(Math.min(frame.height - height, Math.max(0, box.y))),
    width,
    height,
  };
}

/** The box that is measured while there is no mask: dragged, or its corners. */
export function MeasuredBox({
  box,
  placement,
  onChange,
}: {
  box: Box;
  placement: Placement;
  onChange(box: Box): void;
}) {
  const rect = useRef<Konva.Rect>(null);
  const handles = useRef<Konva.Transformer>(null);
  useEffect(() => {
    if (rect.current) handles.current?.nodes([rect.current]);
  }, []);
  const read = () => {
    const node = rect.current!;
    const { scale, x, y } = placement;
    const next = {
      x: (node.x() - x) / scale,
      y: (node.y() - y) / scale,
      width: (node.width() * node.scaleX()) / scale,
      height: (node.height() * node.scaleY()) / scale,
    };
    node.scale({ x: 1, y: 1 });
    onChange(next);
  };
  return (
    <Layer>
      <Rect
        ref={rect}
        x={placement.x + box.x * placement.scale}
        y={placement.y + box.y * placement.scale}
        width={box.width * placement.scale}
        height={box.height * placement.scale}
        stroke="#F7F7F5"
        strokeWidth={2}
        shadowColor="#1C1F1E"
        shadowBlur={3}
        shadowOpacity={1}
        shadowForStrokeEnabled
        strokeScaleEnabled={false}
        draggable
        onDragEnd={read}
        onTransformEnd={read}
      />
      <Transformer
        ref={handles}
        rotateEnabled={false}
        flipEnabled={false}
        borderEnabled={false}
        anchorSize={10}
        anchorStroke="#17695F"
        anchorFill="#F7F7F5"
        keepRatio={false}
      />
    </Layer>
  );
}

/** Arrow keys move the box, with Alt they change its size, with Shift by more. */
export function useBoxKeys(frame: FrameDetail, hasMask: boolean): void {
  const change = useFrameStore((state) => state.change);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const step = event.shiftKey ? 80 : 8;
      const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
      const isElsewhere = event.target instanceof HTMLElement && event.target.closest('input, select');
      if (!by || hasMask || isElsewhere) return;
      event.preventDefault();
      change((old) => {
        const from = old.box ?? centreBox(frame);
        const next = event.altKey
          ? { ...from, width: from.width + by[0], height: from.height + by[1] }
          : { ...from, x: from.x + by[0], y: from.y + by[1] };
        return { ...old, box: insideFrame(next, frame) };
      }, 'box');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [hasMask, change, frame]);
}
