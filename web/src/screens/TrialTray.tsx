import Button from 'react-bootstrap/Button';
import { automaticRecovery, METHODS, type Method, type Prescription, type Recovery, type Trial } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { useWallStore } from '../stores/wallStore';
import { METHOD_HELP, METHOD_NAMES, offered, trialLetter } from '../words';
import {
  addTrial,
  changeTrial,
  chooseTrial,
  differsFromChoice,
  duplicateTrial,
  followsPlaces,
  removeTrial,
  STARTING_AMOUNT,
} from './trialActs';
import { Aperture } from './Aperture';

interface TrialTrayProps {
  readonly trial: Trial;
  readonly index: number;
  readonly prescription: Prescription;
  readonly canAdd: boolean;
}

type NumberSetting = 'amount' | 'blurSizePx' | 'directionDeg' | 'noiseGuard' | 'grainKeptPercent';

const SLIDERS: readonly {
  key: NumberSetting;
  name: string;
  unit?: string;
  least: number;
  most: number;
  step: number;
  help: string;
  has(method: Method): boolean;
}[] = [
  {
    key: 'amount',
    name: 'Amount',
    least: 0,
    most: 100,
    step: 1,
    help: '0 is the original, 100 the full answer.',
    has: () => true,
  },
  {
    key: 'blurSizePx',
    name: 'Blur size',
    unit: 'px',
    least: 0.3,
    most: 40,
    step: 0.1,
    help: 'How far the blur spreads, in pixels of the frame.',
    has: () => true,
  },
  {
    key: 'directionDeg',
    name: 'Direction',
    unit: '°',
    least: 0,
    most: 179.9,
    step: 0.5,
    help: 'Of the movement; 0 is to the right, counter-clockwise.',
    has: (method) => method === 'straight-movement',
  },
  {
    key: 'noiseGuard',
    name: 'Noise guard',
    least: 0,
    most: 100,
    step: 1,
    help: '50 is the measured noise; higher is smoother, lower brings back more grain.',
    has: (method) => method !== 'edge-contrast',
  },
  {
    key: 'grainKeptPercent',
    name: 'Grain kept',
    unit: '%',
    least: 0,
    most: 100,
    step: 1,
    help: 'How much of the original grain is added back.',
    has: () => true,
  },
];

/** What a change of the method forgets. */
const NO_SHAPE = { path: undefined, blades: undefined, bladesDeg: undefined };

/** The settings of the selected trial. */
export function TrialTray({ trial, index, prescription, canAdd }: TrialTrayProps) {
  const change = useFrameStore((state) => state.change);
  const select = useWallStore((state) => state.select);
  const automatic = automaticRecovery(trial.method, prescription.reading, STARTING_AMOUNT);
  const set = (part: Partial<Recovery>, merge: string) =>
    change((old) => changeTrial(old, trial.id, part), merge && `${merge} ${trial.id}`);
  const letter = trialLetter(index);
  const isChosen = prescription.recovery?.trialId === trial.id && !differsFromChoice(prescription, trial);
  const maskName =
    prescription.mask.operations.length > 0 ? `under mask “${prescription.mask.name}”` : 'over the whole frame';

  return (
    <>
      <div className="tray-block trial-name">
        <div className="trial-title">
          <strong>{letter} ·</strong>
          <select
            aria-label={`Method of trial ${letter}`}
            title={METHOD_HELP[trial.method]}
            value={trial.method}
            onChange={(event) => {
              const method = event.target.value as Method;
              set({ ...NO_SHAPE, ...automaticRecovery(method, prescription.reading, STARTING_AMOUNT) }, '');
            }}
          >
            {offered(METHODS, prescription.reading, trial.path).map((method) => (
              <option key={method} value={method}>
                {METHOD_NAMES[method]}
              </option>
            ))}
          </select>
        </div>
        <span className="text-soft">{maskName}</span>
        {followsPlaces(prescription, trial) && <span className="hint">follows the size by place</span>}
        <div className="tray-buttons">
          <Button size="sm" variant="outline-primary" onClick={() => set(automatic, '')}>
            all Automatic
          </Button>
        </div>
      </div>
      <div className="tray-sliders">
        {SLIDERS.filter(({ has }) => has(trial.method)).map(({ key, has: _, ...slider }) => (
          <SettingSlider
            key={key}
            {...slider}
            value={trial[key].value}
            automatic={automatic[key].value}
            isAuto={trial[key].auto}
            onChange={(value) => set({ [key]: { value, auto: false } }, key)}
            onAutomatic={() => set({ [key]: automatic[key] }, '')}
          />
        ))}
        {trial.method === 'missed-focus' && <Aperture trial={trial} set={set} />}
        {trial.method !== 'fine-texture' && (
          <HaloLimit trial={trial} automatic={automatic.haloLimitPercent} set={set} />
        )}
      </div>
      <div className="tray-acts">
        <Button size="sm" disabled={isChosen} onClick={() => change((old) => chooseTrial(old, trial.id))}>
          {isChosen ? `${letter} is chosen` : `Choose ${letter}`} <kbd>Enter</kbd>
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={!canAdd}
          onClick={() => change((old) => addTrial(old, old.reading?.method ?? 'missed-focus'))}
        >
          Add trial <kbd>N</kbd>
        </Button>
        <div className="tray-buttons">
          <Button
            size="sm"
            variant="outline-primary"
            disabled={!canAdd}
            onClick={() => change((old) => duplicateTrial(old, trial.id))}
          >
            Duplicate
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
          most={50}
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
