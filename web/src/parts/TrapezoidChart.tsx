import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import { useRef, useState } from 'react';
import type { Handles } from '@vitrocept/core';

const WIDTH = 300;
const HEIGHT = 76;
const MARGIN = { left: 8, right: 8, top: 10, bottom: 10 };
const STEP = 0.01;
const NAMES = ['begins', 'full from', 'full to', 'ends'];

interface TrapezoidChartProps {
  readonly label: string;
  /** Counts in even bins from 0 to 1; null while they are being made. */
  readonly counts: readonly number[] | null;
  readonly band: Handles;
  onChange(band: Handles): void;
}

/** A trapezoid over a histogram, with four round handles: dragged, or moved by the arrow keys. */
export function TrapezoidChart({ label, counts, band, onChange }: TrapezoidChartProps) {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const x = scaleLinear([0, 1], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([0, 1], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const most = Math.sqrt(max(counts ?? []) ?? 1);
  const places = band.map((value, i) => ({ x: x(value), y: y(i === 0 || i === 3 ? 0 : 1) }));

  const move = (which: number, value: number) => {
    const next = [...band] as unknown as [number, number, number, number];
    const [least, top] = [which > 0 ? band[which - 1] : 0, which < 3 ? band[which + 1] : 1];
    next[which] = Math.round(1000 * Math.min(top, Math.max(least, value))) / 1000;
    if (next[which] !== band[which]) onChange(next);
  };

  return (
    <svg
      ref={svg}
      width={WIDTH}
      height={HEIGHT}
      role="group"
      aria-label={label}
      className="trapezoid"
      onPointerMove={(event) => {
        if (held === null) return;
        move(held, x.invert(event.clientX - svg.current!.getBoundingClientRect().left));
      }}
      onPointerUp={() => setHeld(null)}
      onPointerLeave={() => setHeld(null)}
    >
      {counts && (
        <path
          className="trapezoid-counts"
          d={
            area<number>(
              (_, bin) => x((bin + 0.5) / counts.length),
              y(0),
              (count) => y(Math.sqrt(count) / most),
            )(counts) ?? ''
          }
        />
      )}
      <line x1={x(0)} x2={x(1)} y1={y(0)} y2={y(0)} className="grid-line" />
      <path
        className="trapezoid-line"
        d={
          line<{ x: number; y: number }>(
            (place) => place.x,
            (place) => place.y,
          )(places) ?? ''
        }
      />
      {places.map((place, i) => (
        <circle
          key={i}
          cx={place.x}
          cy={place.y}
          r={6}
          tabIndex={0}
          role="slider"
          aria-label={`${label}, ${NAMES[i]}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(100 * band[i])}
          onPointerDown={(event) => {
            setHeld(i);
            event.currentTarget.focus();
          }}
          onKeyDown={(event) => {
            const by = { ArrowLeft: -STEP, ArrowDown: -STEP, ArrowRight: STEP, ArrowUp: STEP }[event.key];
            if (by === undefined) return;
            event.preventDefault();
            move(i, band[i] + by * (event.shiftKey ? 5 : 1));
          }}
        />
      ))}
    </svg>
  );
}
