import Button from 'react-bootstrap/Button';
import { useBrushStore } from '../stores/brushStore';
import { Choice } from './Choice';
import { SizeSlider } from './SizeSlider';
import type { Areas } from './useAreas';

const DABS = [
  ['loop', 'Loop', 'L'],
  ['this', 'This', 'T'],
  ['not-this', 'Not this', 'N'],
] as const;

/** Finds the subject, and finds it again from what was pointed at. */
export function SubjectTool({ areas }: { areas: Areas }) {
  const { dab, set } = useBrushStore();
  return (
    <>
      <div className="tray-block">
        <Button size="sm" disabled={areas.isBusy} onClick={() => void areas.findSubject([])}>
          Find subject <kbd>S</kbd>
        </Button>
        <Choice name="Point at" options={DABS} value={dab} onChange={(next) => set({ dab: next })} />
        <p className="hint">
          {dab === 'loop'
            ? 'Draw a loose loop round what you mean: only that is found, whatever else is sharp.'
            : 'Press on what was missed or taken wrongly; it is found again.'}
        </p>
      </div>
      <div className="mask-sliders">
        <SizeSlider help="Diameter of a dab in pixels of the frame; smaller is more exact" />
      </div>
    </>
  );
}
