import type { Corrections, Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { ToolTabs } from '../parts/ToolTabs';
import { useLightStore, type LightGroup } from '../stores/lightStore';
import { ColourTools } from './ColourTools';
import { LensTools } from './LensTools';
import { LightChart } from './LightChart';
import { LightTools } from './LightTools';
import { PointTools } from './PointTools';

const GROUPS: readonly (readonly [LightGroup, string])[] = [
  ['light', 'Too dark or too bright'],
  ['colour', 'Wrong colour'],
  ['contrast', 'Contrast'],
  ['lens', 'Lens'],
];

interface LightTrayProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly corrections: Corrections;
  readonly isPicking: boolean;
  setPicking(isPicking: boolean): void;
}

/** What can be put right, by what is wrong; the tones of the picture beside it. */
export function LightTray({ frame, prescription, corrections, isPicking, setPicking }: LightTrayProps) {
  const { group, set } = useLightStore();
  return (
    <section className="tray light-tray" aria-label="Tray">
      <div className="light-groups">
        <ToolTabs label="What is wrong" tabs={GROUPS} open={group} onOpen={(name) => set({ group: name })} />
        <div className="light-panel" role="tabpanel" aria-label={GROUPS.find(([name]) => name === group)![1]}>
          {group === 'light' && <LightTools frame={frame} prescription={prescription} corrections={corrections} />}
          {group === 'colour' && <ColourTools {...{ frame, corrections, isPicking, setPicking }} />}
          {group === 'contrast' && <PointTools frame={frame} prescription={prescription} corrections={corrections} />}
          {group === 'lens' && <LensTools frame={frame} corrections={corrections} />}
        </div>
      </div>
      <LightChart frame={frame} prescription={prescription} corrections={corrections} />
    </section>
  );
}
