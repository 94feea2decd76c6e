import { useEffect, useMemo, useState } from 'react';
import {
  atStage,
  boundsOfMask,
  chooseTrial,
  keptAudit,
  keptLikeness,
  MOST_TRIALS,
  plansOf,
  testStrip,
  wholeOf,
  type Trial,
} from '@vitrocept/core';
import { newId } from '../input/newId';
import { MaskList } from '../parts/MaskList';
import { ProposedNote } from '../parts/ProposedNote';
import { OrderHints } from '../parts/OrderHints';
import { useHeldStage } from '../parts/useHeldStage';
import { LeftCard, useWorkspace } from '../parts/useWorkspace';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import { NothingToRecover } from './NothingToRecover';
import { StripForm } from './StripForm';
import { TradeChart } from './TradeChart';
import { hasRoom, TrialRoom } from './TrialRoom';
import { TrialTray } from './TrialTray';
import { useAudits } from './useAudits';
import { useColumns } from './useColumns';
import { knownLikeness } from './useLikeness';
import { useProposedAmounts } from './useStrongestSafe';
import { useTrialKeys } from './useTrialKeys';
import { Wall } from './Wall';
import { WallEmpty } from './WallEmpty';
import { WallTools } from './WallTools';
import { WholeMaskAudit } from './WholeMaskAudit';
import './trials.css';

/** The Wall and its rooms: what is tried, looked at closely, compared unnamed, held against the face. */
export function Trials() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { selectedId, select, room, enter } = useWallStore();
  const [stripOf, setStripOf] = useState<Trial | null>(null);
  const { trials, probes, mask } = prescription;
  const isComing =
    !prescription.reading &&
    probes.length === 0 &&
    trials.length === 0 &&
    (frame.firstReading.state === 'waiting' || frame.firstReading.state === 'sorted');
  const selected = trials.find(({ id }) => id === selectedId) ?? trials[0] ?? null;
  const at = selected ? trials.indexOf(selected) : -1;
  const columns = useColumns(frame.id, prescription);
  const figures = useAudits(frame, columns.all, probes);
  const held = useHeldStage();
  const beneath = useMemo(
    () => (held && held !== 'original' ? atStage(prescription, held) : columns.original),
    [held, prescription, columns],
  );
  const subject = useMemo(() => boundsOfMask(mask.operations, frame) ?? wholeOf(frame), [mask.operations, frame]);

  const choose = (trial: Trial) => {
    const column = trials.indexOf(trial);
    const own = figures[column] ?? [];
    const audit = probes.flatMap((probe, i) => (own[i] ? [keptAudit(probe, own[i])] : []));
    const likeness = (prescription.faces ?? []).flatMap((face) =>
      knownLikeness(frame, columns.original, columns.trials[column], face).map((found) => keptLikeness(face, found)),
    );
    change((old) => chooseTrial(old, trial.id, { audit, likeness }));
  };
  useProposedAmounts(frame, prescription);
  const enterLikeness = () => enter({ name: 'likeness' });
  useTrialKeys({
    trials,
    selected,
    firstProbeId: probes[0]?.id ?? null,
    hasColumns: columns.all.length > 0,
    onChoose: choose,
    onStrip: setStripOf,
    onLikeness: enterLikeness,
  });
  useEffect(() => () => enter({ name: 'wall' }), [enter]);

  if (hasRoom(room, prescription, columns)) {
    return <TrialRoom {...{ frame, prescription, columns, selected }} onChoose={choose} />;
  }
  return (
    <>
      {plansOf(prescription).length > 1 && (
        <LeftCard>
          <MaskList prescription={prescription} />
        </LeftCard>
      )}
      {trials.length > 0 && probes.length > 0 && (
        <LeftCard>
          <TradeChart figures={figures} selected={at} onSelect={(trial) => trials[trial] && select(trials[trial].id)} />
        </LeftCard>
      )}
      <LeftCard>
        <OrderHints frame={frame} prescription={prescription} />
      </LeftCard>
      <div className="stage wall-stage">
        <ProposedNote prescription={prescription} parts={['probes', 'trials']}>
          Proposed from what was read; nothing is chosen yet.
        </ProposedNote>
        {trials.length === 0 && columns.versions.length === 0 && prescription.reading?.method === null ? (
          <NothingToRecover frame={frame} prescription={prescription} reading={prescription.reading} />
        ) : probes.length === 0 || trials.length === 0 ? (
          <WallEmpty frame={frame} prescription={prescription} isComing={isComing} />
        ) : (
          <Wall
            frame={frame}
            prescription={prescription}
            columns={columns}
            versions={columns.versions}
            selected={selected}
            figures={figures}
            beneath={beneath}
            isHeld={held !== null}
            subject={subject}
          />
        )}
        <WallTools
          frame={frame}
          prescription={prescription}
          hasColumns={columns.all.length > 0}
          onLikeness={enterLikeness}
        />
      </div>
      <section className="tray trial-tray" aria-label="Tray">
        {selected ? (
          <TrialTray
            frame={frame}
            trial={selected}
            index={at}
            prescription={prescription}
            canAdd={trials.length < MOST_TRIALS}
            maskAudit={<WholeMaskAudit frame={frame} column={columns.trials[at]} region={subject} />}
            onChoose={() => choose(selected)}
            onStrip={() => setStripOf(selected)}
            onWhich={() => enter({ name: 'which' })}
          />
        ) : (
          <p className="text-soft">Trials are set here once there is one.</p>
        )}
      </section>
      {stripOf && (
        <StripForm
          trial={stripOf}
          letter={trialLetter(trials.indexOf(stripOf))}
          room={MOST_TRIALS - trials.length + 1}
          onHide={() => setStripOf(null)}
          onPlan={(plan) => {
            change((old) => testStrip(old, stripOf.id, plan, newId));
            setStripOf(null);
          }}
        />
      )}
    </>
  );
}
