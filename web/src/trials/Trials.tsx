import { useEffect, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  addAllMethods,
  asTaken,
  atStage,
  boundsOfMask,
  chooseTrial,
  keptAudit,
  keptLikeness,
  MOST_TRIALS,
  plansOf,
  suggestedStart,
  testStrip,
  wholeOf,
  type Prescription,
  type Trial,
} from '@vitrocept/core';
import { TradeChart } from './TradeChart';
import { HoldButtons } from '../parts/HoldButtons';
import { MagnificationChoice } from '../parts/MagnificationChoice';
import { OrderHints } from '../parts/OrderHints';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { trialLetter, trialName } from '../words';
import { VersionArea } from './VersionArea';
import { useVersions } from '../api/queries';
import type { OutsideVersion } from '@vitrocept/server';
import type { Column } from '../surfaces/tileKeys';
import { useAudits } from './useAudits';
import { knownLikeness } from './useLikeness';
import { CloseLook } from './CloseLook';
import { useHeldStage } from '../parts/useHeldStage';
import { Likeness } from './Likeness';
import { MaskList } from '../parts/MaskList';
import { LeftCard, useWorkspace } from '../parts/useWorkspace';
import { StripForm } from './StripForm';
import { WholeMaskAudit } from './WholeMaskAudit';
import { WhichIsBetter } from './WhichIsBetter';
import { TrialTray } from './TrialTray';
import { useTrialKeys } from './useTrialKeys';
import { Wall } from './Wall';
import { newId } from '../input/newId';
import './trials.css';

/** The prescription as the trial would make it. */
function tried(prescription: Prescription, trial: Trial): Prescription {
  const { id: trialId, name: _, ...recovery } = trial;
  return { ...prescription, recovery: { ...recovery, trialId } };
}

/** The Wall and its rooms: what is tried, looked at closely, compared unnamed, held against the face. */
export function Trials() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { magnification, selectedId, select } = useWallStore();
  const { room, enter, showsFromAfar, setFromAfar } = useWallStore();
  const [stripOf, setStripOf] = useState<Trial | null>(null);
  /** The column whose likeness is looked at, where it is not the selected trial's: an outside version. */
  const [likenessOf, setLikenessOf] = useState<number | null>(null);
  const { trials, probes, reading, mask, cleaning, masksBelow, masksAbove } = prescription;
  const selected = trials.find(({ id }) => id === selectedId) ?? trials[0] ?? null;

  // Only these parts change pixels: a moved probe or another choice leaves every column as it is.
  const columns = useMemo(() => {
    const base = { ...useFrameStore.getState().prescription!, reading, mask, cleaning, masksBelow, masksAbove };
    return {
      original: asTaken(base),
      trials: trials.map((trial) => tried(base, trial)),
    };
  }, [reading, mask, cleaning, masksBelow, masksAbove, trials]);
  const { data: versions = NO_VERSIONS } = useVersions(frame.id);
  const outside = useMemo(
    (): Column[] =>
      versions.map(({ id, width, height, alignment: { placement } }) => ({
        ...columns.original,
        outside: { id, width, height, placement },
      })),
    [versions, columns],
  );
  const all = useMemo(() => [...columns.trials, ...outside], [columns, outside]);
  const figures = useAudits(frame, all, probes);
  const held = useHeldStage();
  const shown = useMemo(
    () => (held && held !== 'original' ? atStage(prescription, held) : columns.original),
    [held, prescription, columns],
  );
  const versionNames = versions.map(({ name }) => name);
  const choose = (trial: Trial) => {
    const at = trials.indexOf(trial);
    const own = figures[at] ?? [];
    const audit = probes.flatMap((probe, i) => (own[i] ? [keptAudit(probe, own[i])] : []));
    const likeness = (prescription.faces ?? []).flatMap((face) =>
      knownLikeness(frame, columns.original, columns.trials[at], face).map((found) => keptLikeness(face, found)),
    );
    change((old) => chooseTrial(old, trial.id, { audit, likeness }));
  };
  const titles = [...trials.map(trialName), ...versionNames].map((name, i) => `${trialLetter(i)} · ${name}`);

  const enterLikeness = () => {
    setLikenessOf(null);
    enter({ name: 'likeness' });
  };

  useTrialKeys({
    trials,
    selected,
    firstProbeId: probes[0]?.id ?? null,
    hasColumns: all.length > 0,
    onChoose: choose,
    onStrip: setStripOf,
    onLikeness: enterLikeness,
  });

  const middle = { x: Math.round(frame.width / 2), y: Math.round(frame.height / 2) };
  const start = () => change((old) => suggestedStart(old, middle, newId));
  const withProbe = (old: Prescription): Prescription =>
    old.probes.length > 0 ? old : { ...old, probes: [{ id: newId(), name: '', ...middle }] };
  const subject = useMemo(() => boundsOfMask(mask.operations, frame) ?? wholeOf(frame), [mask.operations, frame]);

  useEffect(() => () => enter({ name: 'wall' }), [enter]);

  const toWall = () => enter({ name: 'wall' });
  if (room.name === 'close') {
    const at = [...trials, ...versions].findIndex(({ id }) => id === room.trialId);
    const row = probes.findIndex(({ id }) => id === room.probeId);
    if (at >= 0 && row >= 0) {
      return (
        <div className="stage room">
          <CloseLook
            frame={frame}
            original={columns.original}
            trial={all[at]}
            title={titles[at]}
            probe={probes[row]}
            probeName={probes[row].name || `probe ${row + 1}`}
            onClose={toWall}
          />
        </div>
      );
    }
  }
  if (room.name === 'which' && trials.length > 1 && probes.length > 0) {
    return (
      <div className="stage room">
        <WhichIsBetter
          frame={frame}
          original={columns.original}
          trials={trials}
          tried={columns.trials}
          probes={probes}
          magnification={magnification}
          onChoose={(id) => choose(trials.find((trial) => trial.id === id)!)}
          onClose={toWall}
        />
      </div>
    );
  }

  if (room.name === 'likeness' && all.length > 0) {
    return (
      <div className="stage room">
        <Likeness
          frame={frame}
          original={columns.original}
          columns={all}
          titles={titles}
          selected={Math.min(likenessOf ?? Math.max(0, selected ? trials.indexOf(selected) : 0), all.length - 1)}
          onSelect={(column) => {
            setLikenessOf(column);
            if (trials[column]) select(trials[column].id);
          }}
          onClose={toWall}
        />
      </div>
    );
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
          <TradeChart
            figures={figures}
            selected={selected ? trials.indexOf(selected) : -1}
            onSelect={(trial) => trials[trial] && select(trials[trial].id)}
          />
        </LeftCard>
      )}
      <LeftCard>
        <OrderHints frame={frame} prescription={prescription} />
      </LeftCard>
      <div className="stage wall-stage">
        {probes.length === 0 || trials.length === 0 ? (
          <div className="wall-empty">
            <h2>{probes.length === 0 ? 'Place a probe first' : 'No trials yet'}</h2>
            <p>
              {probes.length === 0
                ? 'Press on the Overview at the places you would look at: the eye, fine texture, where the subject meets the background.'
                : 'Start with the cause that was read, its runner-up and Edge contrast, all on Automatic.'}
            </p>
            {trials.length === 0 && (
              <div className="wall-starts">
                <Button onClick={start}>Suggested trials</Button>
                <Button variant="outline-primary" onClick={() => change((old) => addAllMethods(withProbe(old), newId))}>
                  All methods on Automatic
                </Button>
              </div>
            )}
          </div>
        ) : (
          <Wall
            frame={frame}
            prescription={prescription}
            columns={{ ...columns, outside }}
            versions={versions}
            selected={selected}
            figures={figures}
            beneath={shown}
            isHeld={held !== null}
            subject={subject}
          />
        )}
        <div className="wall-tools">
          <MagnificationChoice />
          <HoldButtons prescription={prescription} />
          <label>
            <input type="checkbox" checked={showsFromAfar} onChange={(event) => setFromAfar(event.target.checked)} />{' '}
            from afar
          </label>
          {all.length > 0 && (
            <button type="button" className="hold-button" onClick={enterLikeness}>
              likeness <kbd>P</kbd>
            </button>
          )}
          <VersionArea frame={frame} />
          <span className="text-soft" title="Drag a cell to move the picture in it; the row follows">
            double-click: close look
          </span>
        </div>
      </div>
      <section className="tray trial-tray" aria-label="Tray">
        {selected ? (
          <TrialTray
            trial={selected}
            index={trials.indexOf(selected)}
            prescription={prescription}
            canAdd={trials.length < MOST_TRIALS}
            maskAudit={
              <WholeMaskAudit frame={frame} column={columns.trials[trials.indexOf(selected)]} region={subject} />
            }
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

const NO_VERSIONS: readonly OutsideVersion[] = [];
