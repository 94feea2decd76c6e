import Form from 'react-bootstrap/Form';
import { SettingSlider } from '../parts/SettingSlider';
import { useBrushStore } from '../stores/brushStore';
import { Choice } from './Choice';
import { SizeSlider } from './SizeSlider';

const BRUSHES = [
  ['add', 'Add', 'P'],
  ['erase', 'Erase', 'X'],
] as const;

export function BrushTool() {
  const { brush, featherPercent, opacityPercent, followsEdges, set } = useBrushStore();
  return (
    <>
      <div className="tray-block">
        <Choice name="Brush" options={BRUSHES} value={brush} onChange={(next) => set({ brush: next })} />
        <Form.Check
          type="switch"
          id="follow-edges"
          label={
            <>
              follow edges <kbd>E</kbd>
            </>
          }
          checked={followsEdges}
          onChange={(event) => set({ followsEdges: event.target.checked })}
        />
        <p className="hint">
          {followsEdges
            ? 'Paint flows from the middle of the stroke and stops at strong edges.'
            : 'With Shift: a straight line from the last stroke.'}
        </p>
      </div>
      <div className="mask-sliders">
        <SizeSlider help="Diameter in pixels of the frame; a pen's pressure scales it" />
        <SettingSlider
          name="Feather"
          unit="%"
          value={featherPercent}
          least={0}
          most={100}
          step={1}
          onChange={(next) => set({ featherPercent: next })}
          help="0: hard edge; 100: falls off from the middle"
        />
        <SettingSlider
          name="Strength"
          unit="%"
          value={opacityPercent}
          least={1}
          most={100}
          step={1}
          onChange={(next) => set({ opacityPercent: next })}
          help="How much one stroke adds or erases"
        />
      </div>
    </>
  );
}
