import { max, range } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import {
  addCurvePoint,
  bendsCurve,
  CORRECTIONS,
  curveOf,
  monotoneCubic,
  moveCurvePoint,
  removeCurvePoint,
  withCorrection,
  type Corrections,
  type Prescription,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { CHANNEL_DASHES } from '../measure/channelDashes';
import { useFrameStore } from '../stores/frameStore';
import { onlyCorrected } from '../surfaces/useShownLight';
import { useLitPicture } from '../surfaces/useLitPicture';

const WIDTH = 280;
const HEIGHT = 150;
const MARGIN = { left: 12, right: 12, top: 8, bottom: 20 };
const COUNT_SIDE = 320;
const STEP = 0.01;
const SAMPLES = 64;
/** A press nearer to the curve than this makes a point of it, px. */
const NEAR_PX = 14;

type Held = { readonly kind: 'point'; readonly index: number } | { readonly kind: 'black' | 'white' };

interface LightChartProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly corrections: Corrections;
}

/** The tones that come in, with black and white point under them and the curve over them. */
export function LightChart({ frame, prescription, corrections }: LightChartProps) {
  const change = useFrameStore((state) => state.change);
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Held | null>(null);
  const counts = useTones(frame, prescription);
  const x = scaleLinear([0, 1], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([0, 1], [HEIGHT - MARGIN.bottom, MARGIN.top]).clamp(true);
  const black = corrections.blackPercent.value / 100;
  const white = corrections.whitePercent.value / 100;
  /** Encoded brightness that comes in, from its place between black and white point, and back. */
  const comesIn = (share: number) => black + share * (white - black);
  const shareOf = (brightness: number) => (brightness - black) / (white - black);
  const points = curveOf(corrections);
  const bend = bendsCurve(corrections.curve) ? monotoneCubic(points) : (share: number) => share;

  const placeOf = (event: PointerEvent) => {
    const bounds = svg.current!.getBoundingClientRect();
    return { x: x.invert(event.clientX - bounds.left), y: y.invert(event.clientY - bounds.top) };
  };
  const hold = (next: Held) => (event: PointerEvent<SVGElement>) => {
    setHeld(next);
    event.currentTarget.focus();
    event.stopPropagation();
  };
  const drag = (event: PointerEvent) => {
    if (!held) return;
    const at = placeOf(event);
    if (held.kind === 'point') {
      const { index } = held;
      change((old) => moveCurvePoint(old, index, { x: shareOf(at.x), y: at.y }), `curve ${index}`);
    } else setPoint(held.kind, at.x);
  };
  const setPoint = (kind: 'black' | 'white', value: number) => {
    const key = kind === 'black' ? 'blackPercent' : 'whitePercent';
    change((old) => withCorrection(old, key, Math.round(1000 * value) / 10), `correction ${key}`);
  };
  const onPointKey = (event: KeyboardEvent, index: number) => {
    const step = STEP * (event.shiftKey ? 5 : 1);
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    const point = points[index];
    if (by) change((old) => moveCurvePoint(old, index, { x: point.x + by[0], y: point.y + by[1] }), `curve ${index}`);
    else if (event.key === 'Delete') change((old) => removeCurvePoint(old, index));
    else if (event.key === 'Insert') {
      const after = points[index + 1] ?? points[index - 1];
      const share = (point.x + after.x) / 2;
      change((old) => addCurvePoint(old, { x: share, y: bend(share) }));
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const addBetween = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const at = placeOf(event);
    const share = shareOf(at.x);
    if (share <= 0 || share >= 1 || Math.abs(y(at.y) - y(bend(share))) > NEAR_PX) return;
    change((old) => addCurvePoint(old, { x: share, y: bend(share) }));
    const index = points.filter((point) => point.x < share).length;
    setHeld({ kind: 'point', index });
  };
  const path = line<number>(
    (share) => x(comesIn(share)),
    (share) => y(bend(share)),
  )(range(SAMPLES + 1).map((i) => i / SAMPLES));
  const most = Math.sqrt(max(counts ?? [], (own) => max(own.slice(1, -1))) ?? 1);

  return (
    <svg
      ref={svg}
      width={WIDTH}
      height={HEIGHT}
      className="light-chart"
      role="group"
      aria-label="Tones, black and white point, tone curve"
      onPointerDown={addBetween}
      onPointerMove={drag}
      onPointerUp={() => setHeld(null)}
      onPointerLeave={() => setHeld(null)}
    >
      {[0.25, 0.5, 0.75].map((share) => (
        <line key={share} x1={x(0)} x2={x(1)} y1={y(share)} y2={y(share)} className="grid-line" />
      ))}
      {counts?.map((own, c) => (
        <path
          key={c}
          className="noise-line light-counts"
          strokeDasharray={CHANNEL_DASHES[c].dash}
          d={
            line<number>(
              (_, bin) => x((bin + 0.5) / own.length),
              (count) => y(Math.min(1, Math.sqrt(count) / most)),
            )(own) ?? ''
          }
        />
      ))}
      <path d={path ?? ''} className="light-curve" />
      {points.map((point, i) => (
        <circle
          key={i}
          cx={x(comesIn(point.x))}
          cy={y(point.y)}
          r={5}
          tabIndex={0}
          role="slider"
          aria-label={`Point ${i + 1} of the tone curve`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(100 * point.y)}
          aria-valuetext={`${Math.round(100 * point.x)} % becomes ${Math.round(100 * point.y)} %`}
          onPointerDown={hold({ kind: 'point', index: i })}
          onKeyDown={(event) => onPointKey(event, i)}
        />
      ))}
      {(['black', 'white'] as const).map((kind) => {
        const value = kind === 'black' ? black : white;
        const { least, most: highest, name } = CORRECTIONS[kind === 'black' ? 'blackPercent' : 'whitePercent'];
        return (
          <rect
            key={kind}
            x={Math.max(2, Math.min(WIDTH - 12, x(value) - 5))}
            y={HEIGHT - MARGIN.bottom + 4}
            width={10}
            height={12}
            className={`light-end is-${kind}`}
            tabIndex={0}
            role="slider"
            aria-label={`${name}, under the tones`}
            aria-valuemin={least}
            aria-valuemax={highest}
            aria-valuenow={Math.round(100 * value)}
            onPointerDown={hold({ kind })}
            onKeyDown={(event) => {
              const by = { ArrowLeft: -STEP, ArrowDown: -STEP, ArrowRight: STEP, ArrowUp: STEP }[event.key];
              if (by === undefined) return;
              event.preventDefault();
              setPoint(kind, value + by * (event.shiftKey ? 5 : 1));
            }}
          />
        );
      })}
    </svg>
  );
}

/** Tones as they come in: with all corrections but points and curve. */
function useTones(frame: FrameDetail, prescription: Prescription): readonly (readonly number[])[] | null {
  const { corrections } = prescription;
  const before = useMemo(() => {
    const base = onlyCorrected(prescription);
    if (!corrections) return base;
    const { blackPercent, whitePercent } = corrections;
    return {
      ...base,
      corrections: {
        ...corrections,
        blackPercent: { ...blackPercent, value: 0 },
        whitePercent: { ...whitePercent, value: 100 },
        curve: [],
      },
    };
    // What else is prescribed changes no tones.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [corrections]);
  return useLitPicture(frame, { prescription: before, side: COUNT_SIDE }).picture?.counts ?? null;
}
