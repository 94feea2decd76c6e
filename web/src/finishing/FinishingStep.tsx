import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { atStage, stagesOf } from '@vitrocept/core';
import { ToolTabs } from '../parts/ToolTabs';
import { HoldButtons } from '../parts/HoldButtons';
import { OrderHints } from '../parts/OrderHints';
import { useHeldStage } from '../parts/useHeldStage';
import { LeftCard, useWorkspace } from '../parts/useWorkspace';
import { useLightStore, type FinishGroup } from '../stores/lightStore';
import { FrameSurface } from '../surfaces/FrameSurface';
import { CropLayer } from './CropLayer';
import { EyeTools } from './EyeTools';
import { FinishedView } from './FinishedView';
import { FrameTools } from './FrameTools';
import { LevelLine } from './LevelLine';
import { MendLayer } from './MendLayer';
import { MendTools } from './MendTools';
import { useFinishingFaults } from './useFinishingFaults';
import { useLevelling } from './useLevelling';
import { useMending } from './useMending';
import { WholeTools } from './WholeTools';
import './finishing.css';

const GROUPS: readonly (readonly [FinishGroup, string])[] = [
  ['frame', 'Frame it'],
  ['eye', 'Guide the eye'],
  ['whole', 'Whole picture'],
  ['mend', 'Mend'],
];

/** Small and late: framed, the eye guided, small faults mended. */
export function FinishingStep() {
  const { frame, prescription } = useWorkspace();
  const { finishing: group, set } = useLightStore();
  const held = useHeldStage();
  const [ratio, setRatio] = useState<number | null>(null);
  const levelling = useLevelling(frame);
  const mending = useMending(frame, prescription);
  const faults = useFinishingFaults(frame, prescription);
  const shown = useMemo(() => (held ? atStage(prescription, held) : prescription), [prescription, held]);
  useEffect(() => set({ localId: null }), [set]);

  const isFraming = group === 'frame';
  const isMending = group === 'mend';
  return (
    <>
      <LeftCard>
        <OrderHints frame={frame} prescription={prescription} />
        <div className="finishing-hold">
          {stagesOf(prescription).length > 1 && <HoldButtons prescription={prescription} />}
        </div>
      </LeftCard>
      <div className="stage">
        {isFraming || isMending ? (
          <FrameSurface
            frame={frame}
            label={isFraming ? 'The frame and its crop' : 'The frame and what is mended'}
            shows={shown}
            cursor={isMending || levelling.isOn ? 'crosshair' : undefined}
            draws={isMending || levelling.isOn}
            onPointer={isMending ? mending.onPointer : levelling.isOn ? levelling.onPointer : undefined}
            overlay={(placement) =>
              isMending ? (
                <MendLayer mends={prescription.mends ?? []} mending={mending} placement={placement} />
              ) : (
                <>
                  <CropLayer {...{ frame, prescription, placement, ratio }} isIdle={levelling.isOn} />
                  <LevelLine line={levelling.line} placement={placement} />
                </>
              )
            }
          />
        ) : (
          <FinishedView frame={frame} prescription={shown} />
        )}
        {mending.note && isMending && (
          <div className="stage-hint" role="status">
            {mending.note}
          </div>
        )}
      </div>
      <section className="tray finishing-tray" aria-label="Tray">
        <div className="light-groups">
          <div className="tool-head">
            <ToolTabs label="Finishing" tabs={GROUPS} open={group} onOpen={(name) => set({ finishing: name })} />
            <Link className="finishing-next" to="../hand-over">
              Hand over
            </Link>
          </div>
          <div className="light-panel" role="tabpanel" aria-label={GROUPS.find(([name]) => name === group)![1]}>
            {isFraming && <FrameTools {...{ frame, prescription, ratio, setRatio, levelling }} />}
            {group === 'eye' && <EyeTools frame={frame} prescription={prescription} faults={faults} />}
            {group === 'whole' && <WholeTools prescription={prescription} faults={faults} />}
            {isMending && <MendTools mends={prescription.mends ?? []} mending={mending} />}
          </div>
        </div>
      </section>
    </>
  );
}
