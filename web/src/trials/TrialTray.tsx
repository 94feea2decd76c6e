import type { ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import {
  addAllMethods,
  addTrial,
  automaticRecovery,
  changeTrial,
  differsFromChoice,
  duplicateTrial,
  METHODS,
  MOST_HALO_PERCENT,
  moveTrial,
  narrowDown,
  plansOf,
  removeTrial,
  renameTrial,
  STARTING_AMOUNT,
  steppedSetting,
  type Method,
  type Prescription,
  type Recovery,
  type Trial,
  METHOD_DESCRIPTIONS,
  offered,
  SETTINGS,
  SHAPE_KEYS,
} from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import { Aperture } from './Aperture';
import { Balance } from './Balance';
import { Turn } from './Turn';
import { newId } from '../input/newId';

interface TrialTrayProps {
  readonly trial: Trial;
  readonly index: number;
  readonly prescription: Prescription;
  readonly canAdd: boolean;
  /** The trial judged over all of the mask. */
  readonly maskAudit: ReactNode;
  onChoose(): void;
  onStrip(): void;
  onWhich(): void;
}

/** What a change of the method forgets. */
const NO_SHAPE = Object.fromEntries(['path', ...SHAPE_KEYS].map((key) => [key, undefined])) as Partial<Recovery>;

/** The settings of the selected trial. */
export function TrialTray({
  trial,
  index,
  prescription,
  canAdd,
  maskAudit,
  onChoose,
  onStrip,
  onWhich,
}: TrialTrayProps) {
  const change = useFrameStore((state) => state.change);
  const select = useWallStore((state) => state.select);
  const automatic = automaticRecovery(trial.method, prescription.reading, STARTING_AMOUNT, prescription.cleaning);
  const set = (part: Partial<Recovery>, merge: string) =>
    change((old) => changeTrial(old, trial.id, part), merge && `${merge} ${trial.id}`);
  const letter = trialLetter(index);
  const stepped = steppedSetting(prescription.trials, trial.id);
  const isChosen = prescription.recovery?.trialId === trial.id && !differsFromChoice(prescription, trial);
  const isWhole = prescription.mask.operations.length === 0 && plansOf(prescription).length === 1;
  const maskName = isWhole ? 'over the whole frame' : `under mask “${prescription.mask.name}”`;

  return (
    <>
      <div className="tray-block trial-name">
        <div className="trial-title">
          <strong className="text-nowrap">{letter} ·</strong>
          <select
            aria-label={`Method of trial ${letter}`}
            title={METHOD_DESCRIPTIONS[trial.method].help}
            value={trial.method}
            onChange={(event) => {
              const method = event.target.value as Method;
              set(
                {
                  ...NO_SHAPE,
                  ...automaticRecovery(method, prescription.reading, STARTING_AMOUNT, prescription.cleaning),
                },
                '',
              );
            }}
          >
            {offered(METHODS, trial.path ?? prescription.reading?.path).map((method) => (
              <option key={method} value={method}>
                {METHOD_DESCRIPTIONS[method].name}
              </option>
            ))}
          </select>
        </div>
        <input
          className="own-name"
          value={trial.name ?? ''}
          maxLength={60}
          placeholder="its own name"
          aria-label={`Name of trial ${letter}`}
          onChange={(event) => {
            const { value } = event.target;
            change((old) => renameTrial(old, trial.id, value), `name ${trial.id}`);
          }}
        />
        <span className="text-soft">{maskName}</span>
        {maskAudit}
        <div className="tray-buttons">
          <Button size="sm" variant="outline-primary" onClick={() => set(automatic, '')}>
            all Automatic
          </Button>
          <span className="tray-pair">
            <Button
              size="sm"
              variant="outline-primary"
              aria-label={`Move trial ${letter} to the left`}
              disabled={index === 0}
              onClick={() => change((old) => moveTrial(old, trial.id, -1))}
            >
              ←
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              aria-label={`Move trial ${letter} to the right`}
              disabled={index === prescription.trials.length - 1}
              onClick={() => change((old) => moveTrial(old, trial.id, 1))}
            >
              →
            </Button>
          </span>
        </div>
      </div>
      <div className="tray-sliders">
        <Balance prescription={prescription} />
        {METHOD_DESCRIPTIONS[trial.method].settings.map((key) => (
          <SettingSlider
            key={key}
            {...SETTINGS[key]}
            value={trial[key].value}
            automatic={automatic[key].value}
            isAuto={trial[key].auto}
            autoNote={key === 'noiseGuard' && automatic.noiseGuard.value < 50 ? 'cleaned' : undefined}
            onChange={(value) => set({ [key]: { value, auto: false } }, key)}
            onAutomatic={() => set({ [key]: automatic[key] }, '')}
          />
        ))}
        {trial.method === 'camera-shake' && <Turn trial={trial} read={prescription.reading?.path} set={set} />}
        {METHOD_DESCRIPTIONS[trial.method].shapes.length > 0 && <Aperture trial={trial} set={set} />}
        {trial.method !== 'fine-texture' && (
          <HaloLimit trial={trial} automatic={automatic.haloLimitPercent} set={set} />
        )}
      </div>
      <div className="tray-acts">
        <Button size="sm" disabled={isChosen} onClick={onChoose}>
          {isChosen ? `${letter} is chosen` : `Choose ${letter}`} <kbd>Enter</kbd>
        </Button>
        <div className="tray-buttons">
          <Button size="sm" variant="outline-primary" onClick={onStrip}>
            Test strip … <kbd>S</kbd>
          </Button>
          {stepped && (
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => change((old) => narrowDown(old, trial.id, newId))}
            >
              Narrow down
            </Button>
          )}
          {prescription.trials.length > 1 && (
            <Button size="sm" variant="outline-primary" onClick={onWhich}>
              Which is better? <kbd>W</kbd>
            </Button>
          )}
        </div>
        <div className="tray-buttons">
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAdd}
            onClick={() => change((old) => addTrial(old, old.reading?.method ?? 'missed-focus', newId))}
          >
            Add <kbd>N</kbd>
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAdd}
            onClick={() => change((old) => duplicateTrial(old, trial.id, newId))}
          >
            Duplicate
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAdd}
            title="Every method that is not there yet, on Automatic"
            onClick={() => change((old) => addAllMethods(old, newId))}
          >
            All methods
          </Button>
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => {
              change((old) => removeTrial(old, trial.id));
              select(null);
            }}
          >
            Remove
          </Button>
        </div>
      </div>
    </>
  );
}

interface HaloLimitProps {
  readonly trial: Trial;
  readonly automatic: number | null;
  set(part: Partial<Recovery>, merge: string): void;
}

function HaloLimit({ trial, automatic, set }: HaloLimitProps) {
  const { haloLimitPercent } = trial;
  return (
    <div className="halo-limit">
      {haloLimitPercent === null ? (
        <div className="setting">
          <div className="setting-head">
            <span>Halo limit</span>
            <span className="figure">off</span>
          </div>
        </div>
      ) : (
        <SettingSlider
          name="Halo limit"
          unit="%"
          least={0}
          most={MOST_HALO_PERCENT}
          step={1}
          value={haloLimitPercent}
          automatic={automatic ?? undefined}
          help="How far an edge may overshoot, in percent of the contrast around it."
          onChange={(value) => set({ haloLimitPercent: value }, 'haloLimit')}
        />
      )}
      <label className="off-switch">
        <input
          type="checkbox"
          checked={haloLimitPercent !== null}
          onChange={(event) => set({ haloLimitPercent: event.target.checked ? automatic : null }, '')}
        />{' '}
        limit halos
      </label>
    </div>
  );
}
