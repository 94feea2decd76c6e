import type { Face, MaskOperation } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { ToolTabs } from '../parts/ToolTabs';
import { useBrushStore, type MaskTool } from '../stores/brushStore';
import { BrushTool } from './BrushTool';
import { EdgeTool } from './EdgeTool';
import { FaceTool } from './FaceTool';
import { RangeTool } from './RangeTool';
import { ShapeTool } from './ShapeTool';
import { SubjectTool } from './SubjectTool';
import type { Areas } from './useAreas';
import { VIEWS } from './useMaskKeys';
import { WholeTool } from './WholeTool';

const TOOLS: readonly (readonly [MaskTool, string])[] = [
  ['subject', 'Subject'],
  ['brush', 'Brush'],
  ['ranges', 'Tone, focus, colour'],
  ['shapes', 'Shapes'],
  ['edge', 'Edge'],
  ['faces', 'Faces'],
  ['whole', 'Whole mask'],
];

interface MaskTrayProps {
  readonly frame: FrameDetail;
  readonly faces: readonly Face[];
  readonly operations: readonly MaskOperation[];
  readonly chosen: readonly Face[];
  setLeft(ids: readonly string[]): void;
  readonly areas: Areas;
}

/** The tools of the mask, how it is shown, and the settings of the tool in hand. */
export function MaskTray({ frame, faces, operations, chosen, setLeft, areas }: MaskTrayProps) {
  const { tool, set } = useBrushStore();
  return (
    <section className="tray mask-tray" aria-label="Tray">
      <div className="tool-head">
        <ToolTabs label="Tools" tabs={TOOLS} open={tool} onOpen={(name) => set({ tool: name, selected: null })} />
        <ViewChoice />
      </div>
      <div className="tool-panel" role="tabpanel" aria-label={TOOLS.find(([name]) => name === tool)![1]}>
        {tool === 'subject' && <SubjectTool areas={areas} />}
        {tool === 'brush' && <BrushTool />}
        {tool === 'ranges' && <RangeTool frame={frame} operations={operations} areas={areas} />}
        {tool === 'shapes' && <ShapeTool operations={operations} />}
        {tool === 'edge' && <EdgeTool operations={operations} areas={areas} />}
        {tool === 'faces' && (
          <FaceTool
            frame={frame}
            faces={faces}
            operations={operations}
            chosen={chosen}
            onChoose={(ids) => setLeft(faces.map(({ id }) => id).filter((id) => !ids.includes(id)))}
          />
        )}
        {tool === 'whole' && <WholeTool frame={frame} operations={operations} />}
      </div>
    </section>
  );
}

function ViewChoice() {
  const { view, set } = useBrushStore();
  return (
    <span className="tool-view">
      <label htmlFor="mask-view">View</label>
      <select
        id="mask-view"
        value={view}
        onChange={(event) => set({ view: VIEWS.find(([name]) => name === event.target.value)![0] })}
      >
        {VIEWS.map(([name, label]) => (
          <option key={name} value={name}>
            {label}
          </option>
        ))}
      </select>
    </span>
  );
}
