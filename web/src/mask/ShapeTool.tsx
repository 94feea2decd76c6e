import { replacedAt, type MaskOperation } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useBrushStore } from '../stores/brushStore';
import { useMaskChange } from './useMaskChange';
import { Choice, CombineChoice } from './Choice';

const SHAPES = [
  ['radial', 'Radial'],
  ['linear', 'Linear'],
] as const;
const HINTS = {
  radial: 'Press on the middle and drag outward; press inside the one being adjusted to move it.',
  linear: 'Drag from where it is full to where it has fallen to nothing.',
};

/** The shape that is being adjusted. */
export function selectedShape(operations: readonly MaskOperation[], selected: number | null) {
  const operation = selected === null ? undefined : operations[selected];
  return operation?.kind === 'radial' || operation?.kind === 'linear' ? operation : null;
}

export function ShapeTool({ operations }: { operations: readonly MaskOperation[] }) {
  const { shape, shapeFeatherPercent, combine, selected, set } = useBrushStore();
  const change = useMaskChange();
  const own = selectedShape(operations, selected);
  const adjust = (operation: MaskOperation) => change(replacedAt(selected!, operation), `shape ${selected}`);
  return (
    <>
      <div className="tray-block">
        <Choice name="Shape" options={SHAPES} value={shape} onChange={(next) => set({ shape: next, selected: null })} />
        <CombineChoice
          value={own?.mode ?? combine}
          onChange={(mode) => {
            set({ combine: mode });
            if (own) adjust({ ...own, mode });
          }}
        />
        <p className="hint">{HINTS[shape]}</p>
      </div>
      {shape === 'radial' && (
        <div className="mask-sliders">
          <SettingSlider
            name="Feather"
            unit="%"
            value={own?.kind === 'radial' ? own.featherPercent : shapeFeatherPercent}
            least={0}
            most={100}
            step={1}
            onChange={(featherPercent) => {
              set({ shapeFeatherPercent: featherPercent });
              if (own?.kind === 'radial') adjust({ ...own, featherPercent });
            }}
            help="Share of the radius over which the edge falls inwards"
          />
        </div>
      )}
    </>
  );
}
