import { useRef } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';
import { Group, Layer, Rect, Text } from 'react-konva';
import { MOST_PROBES, regionOfProbe, type Probe } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { FrameSurface, type Placement, type SurfacePointer } from '../surfaces/FrameSurface';
import { useProbes } from './useProbes';

/** A press this near a probe's number takes hold of it, px of the page. */
const GRAB_PX = 14;

interface PlaceLargeProps {
  readonly frame: FrameDetail;
  readonly probes: readonly Probe[];
  onClose(): void;
}

/** Probes placed and moved on the frame large, where an eye is more than a dot. */
export function PlaceLarge({ frame, probes, onClose }: PlaceLargeProps) {
  const { place, move } = useProbes(frame);
  const held = useRef<string | null>(null);
  const scale = useRef(1);
  const onPointer = ({ kind, x, y }: SurfacePointer) => {
    if (kind === 'down') {
      const near = probes.find((probe) => Math.hypot(probe.x - x, probe.y - y) * scale.current < GRAB_PX);
      held.current = near?.id ?? (probes.length < MOST_PROBES ? place(x, y) : null);
    } else if (kind === 'move') {
      if (held.current) move(held.current, x, y);
    } else held.current = null;
  };
  return (
    <Modal show fullscreen onHide={onClose} aria-labelledby="place-title" className="place-large">
      <Modal.Header closeButton>
        <Modal.Title id="place-title">Place probes</Modal.Title>
        <span className="text-soft">
          {probes.length < MOST_PROBES ? 'Press where you would look.' : `${MOST_PROBES} probes are the most.`} Drag a
          number to move it. Wheel: zoom; space and drag: move the picture.
        </span>
        <Button size="sm" onClick={onClose}>
          Done
        </Button>
      </Modal.Header>
      <Modal.Body>
        <FrameSurface
          frame={frame}
          label="The frame, to place probes on"
          cursor="crosshair"
          onPointer={onPointer}
          overlay={(placement) => {
            scale.current = placement.scale;
            return <ProbeLayer probes={probes} placement={placement} />;
          }}
        />
      </Modal.Body>
    </Modal>
  );
}

function ProbeLayer({ probes, placement: { scale, x, y } }: { probes: readonly Probe[]; placement: Placement }) {
  return (
    <Layer listening={false}>
      {probes.map((probe, i) => {
        const side = regionOfProbe(probe).width * scale;
        return (
          <Group key={probe.id} x={x + (probe.x + 0.5) * scale} y={y + (probe.y + 0.5) * scale}>
            <Rect
              x={-side / 2}
              y={-side / 2}
              width={side}
              height={side}
              stroke="#1C1F1E"
              strokeWidth={3}
              opacity={0.5}
            />
            <Rect x={-side / 2} y={-side / 2} width={side} height={side} stroke="#F7F7F5" strokeWidth={1.2} />
            <Rect x={-10} y={-8} width={20} height={16} fill="#1C1F1E" stroke="#F7F7F5" strokeWidth={1} />
            <Text
              x={-10}
              y={-6}
              width={20}
              align="center"
              text={String(i + 1)}
              fontFamily="IBM Plex Mono"
              fontSize={12}
              fill="#F7F7F5"
            />
          </Group>
        );
      })}
    </Layer>
  );
}
