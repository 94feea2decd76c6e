import { useId } from 'react';
import { FWHM_PER_SIGMA, type Method, type StoredPath } from '@vitrocept/core';

interface PsfDrawingProps {
  readonly method: Method | null;
  readonly blurSizePx: number;
  readonly directionDeg: number;
  readonly path?: StoredPath;
  readonly side?: number;
}

/** The picture of a point of light, to scale: one square of the grid is one pixel of the frame. */
export function PsfDrawing({ method, blurSizePx, directionDeg, path, side = 48 }: PsfDrawingProps) {
  const extent = method === 'camera-shake' && path ? path.side + 2 : Math.max(6, Math.ceil(blurSizePx * 1.5));
  const unit = side / extent;
  const middle = side / 2;
  const id = useId();
  const label = method ? `The blur drawn to scale, ${blurSizePx.toFixed(1)} px` : 'A sharp point';
  return (
    <svg className="psf" width={side} height={side} viewBox={`0 0 ${side} ${side}`} role="img" aria-label={label}>
      <defs>
        <pattern id={id} width={unit} height={unit} patternUnits="userSpaceOnUse" x={middle} y={middle}>
          <path d={`M ${unit} 0 L 0 0 0 ${unit}`} fill="none" stroke="#CFCFCB" strokeWidth={0.5} />
        </pattern>
        <radialGradient id={`${id}-soft`}>
          {[0, 0.25, 0.5, 0.75, 1].map((at) => (
            <stop key={at} offset={at} stopColor="#1C1F1E" stopOpacity={Math.exp(-4.5 * at * at)} />
          ))}
        </radialGradient>
      </defs>
      <rect width={side} height={side} fill="#fff" />
      {unit >= 3 && <rect width={side} height={side} fill={`url(#${id})`} />}
      {method === null && <circle cx={middle} cy={middle} r={1.5} fill="#1C1F1E" />}
      {method === 'missed-focus' && <circle cx={middle} cy={middle} r={(blurSizePx / 2) * unit} fill="#1C1F1E" />}
      {(method === 'ordinary-softness' || method === 'edge-contrast' || method === 'fine-texture') && (
        <circle cx={middle} cy={middle} r={(3 * blurSizePx * unit) / FWHM_PER_SIGMA} fill={`url(#${id}-soft)`} />
      )}
      {method === 'camera-shake' && path && <PathSquares path={path} unit={unit} />}
      {method === 'straight-movement' && (
        <line
          x1={middle - (blurSizePx / 2) * unit}
          x2={middle + (blurSizePx / 2) * unit}
          y1={middle}
          y2={middle}
          stroke="#1C1F1E"
          strokeWidth={Math.max(1.5, unit)}
          strokeLinecap="butt"
          transform={`rotate(${-directionDeg} ${middle} ${middle})`}
        />
      )}
    </svg>
  );
}

function PathSquares({ path, unit }: { path: StoredPath; unit: number }) {
  const strongest = Math.max(...path.values);
  return path.values.map((value, i) =>
    value === 0 ? null : (
      <rect
        key={i}
        x={((i % path.side) + 1) * unit}
        y={(Math.floor(i / path.side) + 1) * unit}
        width={unit}
        height={unit}
        fill="#1C1F1E"
        fillOpacity={value / strongest}
      />
    ),
  );
}
