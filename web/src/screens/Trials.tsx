import { useEffect, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  asTaken,
  atStage,
  boundsOfMask,
  MOST_TRIALS,
  wholeOf,
  type Prescription,
  type Trial,
  plansOf,
} from '@vitrocept/core';
import { TradeChart } from '../parts/TradeChart';
import { HoldButtons } from '../parts/HoldButtons';
import { isTyping } from '../parts/keys';
import { MagnificationChoice } from '../parts/MagnificationChoice';
import { OrderHints } from '../parts/OrderHints';
import { useFrameStore } from '../stores/frameStore';
import { MAGNIFICATIONS, useWallStore } from '../stores/wallStore';
import { WallCell } from '../surfaces/WallCell';
import { trialLetter, trialName } from '../words';
import { VersionHead } from '../parts/VersionHead';
import { VersionArea } from '../parts/VersionArea';
import { useVersions } from '../api/queries';
import type { OutsideVersion } from '@vitrocept/server';
import type { Column } from '../surfaces/tileKeys';
import { useAudits } from '../surfaces/useAudits';
import { knownLikeness } from '../surfaces/useLikeness';
import { CloseLook } from './CloseLook';
import { useHeldStage } from './useHeldStage';
import { Likeness } from './Likeness';
import { MaskList } from '../parts/MaskList';
import { LeftCard, useWorkspace } from './FrameWorkspace';
import { StripForm } from './StripForm';
import { WholeMaskAudit } from './WholeMaskAudit';
import { WhichIsBetter } from './WhichIsBetter';
import { TrialHead } from './TrialHead';
import { TrialTray } from './TrialTray';
import {
  addAllMethods,
  addTrial,
  chooseTrial,
  keptAudit,
  keptLikeness,
  removeTrial,
  suggestedStart,
  testStrip,
} from './trialActs';

const CELL = { width: 177, height: 124 };

/** The prescription as the trial would make it. */
function tried(prescription: Prescription, trial: Trial): Prescription {
  const { id: trialId, name: _, ...recovery } = trial;
  return { ...prescription, recovery: { ...recovery, trialId } };
}

/** The Wall: probes down, trials across, every cell the same pixels at the same magnification. */
export function Trials() {
  const { frame, prescription } = useWorkspace();
  const change = useFrameStore((state) => state.change);
  const { magnification, setMagnification, pans, pan, selectedId, select } = useWallStore();
  const { isHoldingOne, holdOne, room, enter, showsFromAfar, setFromAfar } = useWallStore();
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

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      const letter = key.length === 1 ? key.charCodeAt(0) - 97 : -1;
      const level = MAGNIFICATIONS.indexOf(magnification);
      if (room.name !== 'wall') return;
      if (key === '1') holdOne(true);
      else if (key === 's' && selected) setStripOf(selected);
      else if (key === 'w' && trials.length > 1 && probes.length > 0) enter({ name: 'which' });
      else if (key === 'p' && all.length > 0) enterLikeness();
      else if (key === 'o' && selected && probes[0])
        enter({ name: 'close', trialId: selected.id, probeId: probes[0].id });
      else if (key === '+' || key === '=')
        setMagnification(MAGNIFICATIONS[Math.min(level + 1, MAGNIFICATIONS.length - 1)]);
      else if (key === '-') setMagnification(MAGNIFICATIONS[Math.max(level - 1, 0)]);
      else if (key === 'n') change((old) => addTrial(old, old.reading?.method ?? 'missed-focus'));
      else if (key === 'enter' && selected && !isOtherButton(event.target)) {
        // On a trial's head Enter would press it once more.
        event.preventDefault();
        choose(selected);
      } else if (key === 'delete' && selected) change((old) => removeTrial(old, selected.id));
      else if (letter >= 0 && letter < trials.length) select(trials[letter].id);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  useEffect(() => {
    const letGo = () => holdOne(false);
    const onKeyUp = (event: KeyboardEvent) => {
      if (event.key === '1') letGo();
    };
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', letGo);
      letGo();
    };
  }, [holdOne]);

  const middle = { x: Math.round(frame.width / 2), y: Math.round(frame.height / 2) };
  const start = () => change((old) => suggestedStart(old, middle));
  const withProbe = (old: Prescription): Prescription =>
    old.probes.length > 0 ? old : { ...old, probes: [{ id: crypto.randomUUID(), name: '', ...middle }] };
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
                <Button variant="outline-primary" onClick={() => change((old) => addAllMethods(withProbe(old)))}>
                  All methods on Automatic
                </Button>
              </div>
            )}
          </div>
        ) : (
          <div className="wall" role="grid" aria-label="Wall">
            <div className="wall-row wall-heads" role="row">
              <div className="wall-side" role="columnheader" aria-label="Probe" />
              <div className="trial-head is-original" role="columnheader" style={{ width: CELL.width }}>
                <strong>Original</strong>
                <span className="figure">as taken</span>
              </div>
              {trials.map((trial, i) => (
                <TrialHead
                  key={trial.id}
                  trial={trial}
                  index={i}
                  width={CELL.width}
                  prescription={prescription}
                  isSelected={trial === selected}
                  onSelect={() => select(trial.id)}
                />
              ))}
              {versions.map((version, i) => (
                <VersionHead
                  key={version.id}
                  version={version}
                  letter={trialLetter(trials.length + i)}
                  width={CELL.width}
                />
              ))}
            </div>
            {showsFromAfar && (
              <div className="wall-row" role="row">
                <div className="wall-side" role="rowheader">
                  <span className="row-name">from afar</span>
                </div>
                {[columns.original, ...all].map((column, i) => (
                  <div
                    key={i === 0 ? 'original' : (trials[i - 1] ?? versions[i - 1 - trials.length]).id}
                    role="gridcell"
                    className={i === 0 ? 'is-pinned' : selected && trials[i - 1] === selected ? 'is-selected' : ''}
                  >
                    <WallCell
                      frame={frame}
                      original={shown}
                      prescription={column}
                      centre={{ x: subject.x + subject.width / 2, y: subject.y + subject.height / 2 }}
                      magnification={100 * Math.min(CELL.width / subject.width, CELL.height / subject.height, 1)}
                      {...CELL}
                      showOriginal={held !== null}
                      showOriginalUnderPointer={isHoldingOne}
                      rank={5000 + i}
                      staysDraft
                      figures={null}
                      isUnnamed
                      label={i === 0 ? 'Original from afar' : `Trial ${trialLetter(i - 1)} from afar`}
                      onPan={() => undefined}
                    />
                  </div>
                ))}
              </div>
            )}
            {probes.map((probe, row) => {
              const offset = pans[probe.id] ?? { x: 0, y: 0 };
              const cell = {
                frame,
                original: shown,
                centre: { x: probe.x + offset.x, y: probe.y + offset.y },
                magnification,
                ...CELL,
                onPan: (x: number, y: number) => pan(probe.id, x, y),
              };
              return (
                <div key={probe.id} className="wall-row" role="row">
                  <div className="wall-side" role="rowheader">
                    <input
                      className="probe-name"
                      value={probe.name}
                      placeholder={`probe ${row + 1}`}
                      aria-label={`Name of probe ${row + 1}`}
                      maxLength={80}
                      onChange={(event) => {
                        const name = event.target.value;
                        change(
                          (old) => ({
                            ...old,
                            probes: old.probes.map((other) => (other.id === probe.id ? { ...other, name } : other)),
                          }),
                          `name ${probe.id}`,
                        );
                      }}
                    />
                    <span className="probe-number">{row + 1}</span>
                  </div>
                  <div role="gridcell" className="is-pinned">
                    <WallCell
                      {...cell}
                      prescription={columns.original}
                      showOriginal={false}
                      rank={row}
                      figures={null}
                      label={`Original at probe ${row + 1}`}
                    />
                  </div>
                  {trials.map((trial, i) => (
                    <div key={trial.id} role="gridcell" className={trial === selected ? 'is-selected' : ''}>
                      <WallCell
                        {...cell}
                        prescription={columns.trials[i]}
                        showOriginal={held !== null}
                        showOriginalUnderPointer={isHoldingOne}
                        figures={figures[i]?.[row] ?? null}
                        onOpen={() => enter({ name: 'close', trialId: trial.id, probeId: probe.id })}
                        rank={(trial === selected ? 0 : 100) + row * 10 + i}
                        label={`Trial ${trialLetter(i)} at probe ${row + 1}`}
                      />
                    </div>
                  ))}
                  {versions.map((version, i) => (
                    <div key={version.id} role="gridcell">
                      <WallCell
                        {...cell}
                        prescription={outside[i]}
                        showOriginal={held !== null}
                        showOriginalUnderPointer={isHoldingOne}
                        rank={100 + row * 10 + trials.length + i}
                        figures={figures[trials.length + i]?.[row] ?? null}
                        onOpen={() => enter({ name: 'close', trialId: version.id, probeId: probe.id })}
                        label={`Outside version ${trialLetter(trials.length + i)} at probe ${row + 1}`}
                      />
                    </div>
                  ))}
                </div>
              );
            })}
          </div>
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
            change((old) => testStrip(old, stripOf.id, plan));
            setStripOf(null);
          }}
        />
      )}
    </>
  );
}

const NO_VERSIONS: readonly OutsideVersion[] = [];

/** A button with a meaning of its own for Enter. */
function isOtherButton(target: EventTarget | null): boolean {
  return target instanceof HTMLButtonElement && !target.classList.contains('trial-head');
}
