import { brush, type D3BrushEvent } from 'd3-brush';
import { select } from 'd3-selection';
import { useEffect, useMemo, useRef, useState } from 'react';
import { PILES } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { CHART, chartMarks, chartScales, idsWithin, nearestMark, outlineOf, type ChartMark } from './chartMarks';
import { faultSentence } from './sheetFrame';

interface SortChartProps {
  readonly frames: readonly SheetFrame[];
  readonly selected: ReadonlySet<string>;
  onSelect(selected: ReadonlySet<string>): void;
}

/** px within which a press means a mark. */
const PRESS_REACH = 9;
/** Marks without blur lie on the axis itself: a rectangle must be able to begin beyond it. */
const BEYOND = 8;

/** Blur against noise, a mark a frame. A rectangle drawn over it chooses what lies within; a press chooses one. */
export function SortChart({ frames, selected, onSelect }: SortChartProps) {
  const brushed = useRef<SVGGElement>(null);
  const scales = useMemo(() => chartScales(frames), [frames]);
  const marks = useMemo(() => chartMarks(frames, scales), [frames, scales]);
  const [pointed, setPointed] = useState<ChartMark | null>(null);
  const latest = useRef({ marks, onSelect });
  latest.current = { marks, onSelect };

  useEffect(() => {
    const layer = brush<unknown>()
      .extent([
        [CHART.left - BEYOND, CHART.top - BEYOND],
        [CHART.width - CHART.right + BEYOND, CHART.height - CHART.bottom + BEYOND],
      ])
      .on('end', ({ selection, sourceEvent }: D3BrushEvent<unknown>) => {
        if (!sourceEvent) return;
        const { marks: now, onSelect: choose } = latest.current;
        if (!selection) {
          const box = brushed.current!.ownerSVGElement!.getBoundingClientRect();
          const { clientX, clientY } = sourceEvent as MouseEvent;
          const one = nearestMark(now, clientX - box.left, clientY - box.top, PRESS_REACH);
          choose(new Set(one ? [one.frame.id] : []));
          return;
        }
        const [[left, top], [right, bottom]] = selection as [[number, number], [number, number]];
        choose(new Set(idsWithin(now, { left, top, right, bottom })));
      });
    const group = select<SVGGElement, unknown>(brushed.current!);
    group.call(layer);
    return () => {
      group.on('.brush', null);
    };
  }, []);

  const { x, y } = scales;
  const chosen = marks.filter(({ frame }) => selected.has(frame.id));
  const others = marks.filter(({ frame }) => !selected.has(frame.id));
  return (
    <figure className="sort-chart card-plain" aria-label="Blur against noise">
      <svg
        width={CHART.width}
        height={CHART.height}
        onPointerMove={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          setPointed(nearestMark(marks, event.clientX - box.left, event.clientY - box.top, PRESS_REACH));
        }}
        onPointerLeave={() => setPointed(null)}
      >
        {x.ticks(6).map((tick) => (
          <g key={tick} transform={`translate(${x(tick)} 0)`}>
            <line y1={CHART.top} y2={CHART.height - CHART.bottom} className="grid-line" />
            <text y={CHART.height - CHART.bottom + 13} textAnchor="middle">
              {tick}
            </text>
          </g>
        ))}
        {y.ticks(4).map((tick) => (
          <g key={tick} transform={`translate(0 ${y(tick)})`}>
            <line x1={CHART.left} x2={CHART.width - CHART.right} className="grid-line" />
            <text x={CHART.left - 5} y={3} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
        <text x={CHART.width - CHART.right} y={CHART.height - 4} textAnchor="end">
          blur of the subject, px
        </text>
        <text x={CHART.left} y={CHART.height - 4}>
          noise, % (up)
        </text>
        {PILES.map((pile) => (
          <g key={pile} className={`chart-marks of-${pile}`}>
            <path d={outlineOf(others, pile)} className={selected.size > 0 ? 'is-faint' : ''} />
            <path d={outlineOf(chosen, pile)} className="is-chosen" />
          </g>
        ))}
        {pointed && <circle cx={pointed.x} cy={pointed.y} r={8} className="chart-pointed" />}
        <g ref={brushed} className="chart-brush" />
      </svg>
      <figcaption className="text-soft">
        {pointed
          ? `${pointed.frame.name}: ${faultSentence(pointed.frame)}, noise ${pointed.frame.sortedAs!.noisePercent.toFixed(1)} %`
          : 'Draw a rectangle over marks to choose their frames; press one to choose it alone.'}
      </figcaption>
    </figure>
  );
}
