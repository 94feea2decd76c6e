import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { added, replacedAt, type MaskOperation } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useBrushStore } from '../stores/brushStore';
import { useMaskChange } from './useMaskChange';
import type { Areas } from './useAreas';

/** What is done to the edge of the mask so far: moved, softened, its holes and specks tidied. */
export function EdgeTool({ operations, areas }: { operations: readonly MaskOperation[]; areas: Areas }) {
  const { selected, set } = useBrushStore();
  const change = useMaskChange();
  const [sides, setSides] = useState(60);
  const own = selected === null ? undefined : operations[selected];
  const grow = own?.kind === 'grow' ? own : null;
  const feather = own?.kind === 'feather' ? own : null;
  const begin = (operation: MaskOperation) => {
    set({ selected: operations.length });
    change(added(operation));
  };
  const isEmpty = operations.length === 0;
  return (
    <>
      <div className="mask-sliders">
        <div>
          <SettingSlider
            name="Grow or shrink"
            unit="px"
            value={grow?.px ?? 0}
            least={-60}
            most={60}
            step={1}
            onChange={(px) =>
              grow ? change(replacedAt(selected!, { kind: 'grow', px }), 'grow') : begin({ kind: 'grow', px })
            }
            help="Moves the edge outwards; below 0 inwards"
          />
        </div>
        <SettingSlider
          name="Soften"
          unit="px"
          value={feather?.px ?? 0}
          least={0}
          most={200}
          step={1}
          onChange={(px) =>
            feather ? change(replacedAt(selected!, { kind: 'feather', px }), 'feather') : begin({ kind: 'feather', px })
          }
          help="The edge then falls from 90 to 10 % over so many pixels of the frame"
        />
      </div>
      <div className="tray-block">
        <div className="tray-buttons">
          <Button
            size="sm"
            variant="outline-primary"
            disabled={isEmpty || areas.isBusy}
            onClick={() => void areas.add({ kind: 'holes', side: sides, operations }, 'add')}
          >
            Fill holes
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={isEmpty || areas.isBusy}
            onClick={() => void areas.add({ kind: 'specks', side: sides, operations }, 'erase')}
          >
            Remove specks
          </Button>
        </div>
        <p className="hint">Grow and soften act on all that stands before them in the list.</p>
      </div>
      <div className="mask-sliders">
        <SettingSlider
          name="Up to"
          unit="px"
          value={sides}
          least={4}
          most={600}
          step={1}
          onChange={setSides}
          help="Holes and specks of up to the area of a square with this side"
        />
      </div>
    </>
  );
}
