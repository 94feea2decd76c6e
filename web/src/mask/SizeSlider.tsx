import { SettingSlider } from '../parts/SettingSlider';
import { useBrushStore } from '../stores/brushStore';

/** Diameter of what the hand holds, brush or dab. */
export function SizeSlider({ help }: { help: string }) {
  const { sizePx, set } = useBrushStore();
  return (
    <SettingSlider
      name="Size"
      unit="px"
      value={sizePx}
      least={2}
      most={1000}
      step={1}
      onChange={(next) => set({ sizePx: next })}
      help={help}
    />
  );
}
