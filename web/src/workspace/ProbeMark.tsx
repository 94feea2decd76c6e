import type { KeyboardEvent, PointerEvent } from 'react';
import { regionOfProbe, type Probe } from '@vitrocept/core';

interface ProbeMarkProps {
  readonly probe: Probe;
  readonly number: number;
  /** Px of the map per px of the frame. */
  readonly scale: number;
  readonly canMove: boolean;
  readonly isProposed: boolean;
  onKey(event: KeyboardEvent): void;
  onGrab(event: PointerEvent): void;
  onFocus(): void;
}

/** A numbered probe on the map, with the square that it watches. */
export function ProbeMark({ probe, number, scale, canMove, isProposed, onKey, onGrab, onFocus }: ProbeMarkProps) {
  return (
    <g
      data-probe={probe.id}
      className={`probe-mark ${isProposed ? 'is-proposed' : ''}`}
      transform={`translate(${(probe.x + 0.5) * scale} ${(probe.y + 0.5) * scale})`}
      tabIndex={canMove ? 0 : -1}
      role="button"
      aria-label={`Probe ${number}${probe.name ? `, ${probe.name}` : ''}; arrow keys move it, Delete removes it`}
      onKeyDown={(event) => canMove && onKey(event)}
      onPointerDown={(event) => {
        if (!canMove || event.button !== 0) return;
        event.stopPropagation();
        onGrab(event);
      }}
      onFocus={onFocus}
    >
      {canMove && (
        <rect
          className="probe-square"
          x={(-regionOfProbe(probe).width * scale) / 2}
          y={(-regionOfProbe(probe).width * scale) / 2}
          width={regionOfProbe(probe).width * scale}
          height={regionOfProbe(probe).width * scale}
        />
      )}
      <rect x={-9} y={-7} width={18} height={14} />
      <text y={4}>{number}</text>
    </g>
  );
}
