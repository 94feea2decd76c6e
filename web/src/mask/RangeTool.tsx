import { useEffect, useRef } from 'react';
import Button from 'react-bootstrap/Button';
import { type AreaWish, type Handles, type MaskOperation } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { SettingSlider } from '../parts/SettingSlider';
import { TrapezoidChart } from '../parts/TrapezoidChart';
import { useBrushStore, type RangeKind } from '../stores/brushStore';
import { useCounts } from '../surfaces/useCounts';
import { Choice, CombineChoice } from './Choice';
import type { Areas } from './useAreas';

const KINDS: readonly (readonly [RangeKind, string])[] = [
  ['tone', 'Tone band'],
  ['focus', 'Focus range'],
  ['colour', 'Colour'],
];
const HINTS: Record<RangeKind, string> = {
  tone: 'From dark to light: what lies under the trapezoid.',
  focus: 'From the softest place to the sharpest: keep only what was nearly in focus.',
  colour: 'Press on a colour in the picture.',
};
/** While handles move the area is made again this long after the last move. */
const SETTLE_MS = 120;

/** The operation that is being adjusted, if it is a range of this kind. */
export function selectedRange(operations: readonly MaskOperation[], selected: number | null, kind: RangeKind) {
  const operation = selected === null ? undefined : operations[selected];
  return operation?.kind === 'area' && operation.from.kind === kind ? operation : null;
}

/** Tone, focus and colour as masks. */
export function RangeTool({
  frame,
  operations,
  areas,
}: {
  frame: FrameDetail;
  operations: readonly MaskOperation[];
  areas: Areas;
}) {
  const { range, bands, tolerance, combine, selected, set } = useBrushStore();
  const own = selectedRange(operations, selected, range);
  const counts = useCounts(frame, range);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** The last move that has not been made yet. */
  const waiting = useRef<(() => void) | null>(null);
  const settle = () => {
    clearTimeout(timer.current);
    waiting.current?.();
    waiting.current = null;
  };
  useEffect(() => settle, []);

  const adjust = (wish: AreaWish) => {
    if (!own || selected === null) return;
    clearTimeout(timer.current);
    waiting.current = () => void areas.replace(selected, wish, own.mode);
    timer.current = setTimeout(settle, SETTLE_MS);
  };
  const band = range === 'colour' ? null : bands[range];
  const onBand = (next: Handles) => {
    if (range === 'colour') return;
    set({ bands: { ...bands, [range]: next } });
    adjust({ kind: range, band: next });
  };
  const add = () => {
    if (range !== 'colour') void areas.add({ kind: range, band: bands[range] }, combine, (at) => set({ selected: at }));
  };

  return (
    <>
      <div className="tray-block">
        <Choice name="Range" options={KINDS} value={range} onChange={(kind) => set({ range: kind, selected: null })} />
        <CombineChoice
          value={own?.mode ?? combine}
          onChange={(mode) => {
            set({ combine: mode });
            // A range is made again from what it keeps.
            if (own && selected !== null) void areas.replace(selected, own.from as AreaWish, mode);
          }}
        />
        <p className="hint">{HINTS[range]}</p>
      </div>
      {band && (
        <div className="tray-block">
          <TrapezoidChart
            label={range === 'tone' ? 'Tone band' : 'Focus range'}
            counts={counts}
            band={band}
            onChange={onBand}
          />
          <div className="tray-buttons">
            {own ? (
              <span className="text-soft">adjusting {selected! + 1}; </span>
            ) : (
              <Button size="sm" onClick={add}>
                {combine === 'add' ? 'Add' : combine === 'erase' ? 'Take away' : 'Keep only'} this{' '}
                {range === 'tone' ? 'band' : 'range'}
              </Button>
            )}
            {own && (
              <button type="button" className="link-button" onClick={() => set({ selected: null })}>
                make another
              </button>
            )}
          </div>
        </div>
      )}
      {range === 'colour' && (
        <div className="mask-sliders">
          <SettingSlider
            name="Tolerance"
            unit="ΔE"
            value={tolerance}
            least={2}
            most={60}
            step={1}
            onChange={(next) => {
              set({ tolerance: next });
              if (own?.from.kind === 'colour') adjust({ ...own.from, tolerance: next });
            }}
            help="How different a colour may be and still belong (CIEDE2000); half of it belongs wholly"
          />
        </div>
      )}
    </>
  );
}
