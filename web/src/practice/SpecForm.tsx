import { useId } from 'react';
import { PRACTICE_FAULTS, PRACTICE_RANGES, type PracticeFault, type PracticeSpec } from '@vitrocept/core';
import { NumberField } from '../parts/NumberField';

const FAULT_NAMES: Record<PracticeFault, string> = {
  none: 'nothing',
  'missed-focus': 'missed focus',
  movement: 'the subject moved',
  shake: 'camera shake',
  softness: 'an ordinary softness',
};

interface SpecFormProps {
  readonly spec: PracticeSpec;
  readonly scenes: readonly string[];
  onChange(part: Partial<PracticeSpec>): void;
}

type NumberKey = keyof typeof PRACTICE_RANGES;

/** Scene, fault and exposure, in the figures a photographer knows. */
export function SpecForm({ spec, scenes, onChange }: SpecFormProps) {
  const id = useId();
  const { fault, scene } = spec;
  const number = (key: NumberKey, name: string, unit: string, digits = 0) => (
    <label key={key}>
      <span>{name}</span>
      <span className="figure">
        <NumberField
          label={name}
          value={spec[key]}
          {...PRACTICE_RANGES[key]}
          digits={digits}
          onChange={(value) => onChange({ [key]: value })}
        />{' '}
        {unit}
      </span>
    </label>
  );
  return (
    <div className="practice-form">
      <div role="radiogroup" aria-label="Scene" className="practice-scenes">
        {scenes.map((name, i) => (
          <label key={name} className={scene === i ? 'is-picked' : ''}>
            <input type="radio" name={`${id}scene`} checked={scene === i} onChange={() => onChange({ scene: i })} />
            <img src={`/api/practice/scenes/${i}/view.jpg`} alt={name} width={120} height={80} />
          </label>
        ))}
      </div>
      {typeof scene === 'string' && <p className="hint">A sharp frame of your own is photographed again.</p>}
      <label>
        <span>What goes wrong</span>
        <select value={fault} onChange={({ target }) => onChange({ fault: target.value as PracticeFault })}>
          {PRACTICE_FAULTS.map((one) => (
            <option key={one} value={one}>
              {FAULT_NAMES[one]}
            </option>
          ))}
        </select>
      </label>
      {fault !== 'none' && fault !== 'softness' && number('focalLengthMm', 'Focal length', 'mm')}
      {fault === 'missed-focus' && (
        <>
          {number('aperture', 'f-number', '', 1)}
          {number('distanceM', 'Distance', 'm', 1)}
          {number('focusErrorMm', 'Focused in front by', 'mm')}
          <label>
            <span>Diaphragm</span>
            <select value={spec.blades} onChange={({ target }) => onChange({ blades: Number(target.value) })}>
              {[0, 5, 6, 7, 8, 9, 11].map((blades) => (
                <option key={blades} value={blades}>
                  {blades === 0 ? 'round' : `${blades} blades`}
                </option>
              ))}
            </select>
          </label>
        </>
      )}
      {fault === 'movement' && (
        <>
          {number('distanceM', 'Distance', 'm', 1)}
          {number('speedMetresPerSecond', 'Speed', 'm/s', 2)}
        </>
      )}
      {(fault === 'movement' || fault === 'shake') && <Shutter spec={spec} onChange={onChange} />}
      {fault === 'shake' && number('turnDeg', 'The camera turns by', '°', 2)}
      {fault === 'softness' && number('softnessPx', 'Softness', 'px', 1)}
      {number('iso', 'ISO', '')}
      <label>
        <span>File</span>
        <select
          value={spec.isMosaic ? 'raw' : 'jpeg'}
          onChange={({ target }) => onChange({ isMosaic: target.value === 'raw' })}
        >
          <option value="jpeg">JPEG</option>
          <option value="raw">raw (DNG)</option>
        </select>
      </label>
      {!spec.isMosaic && number('quality', 'JPEG quality', '')}
      {number('seed', 'Number of the case', '')}
    </div>
  );
}

const SHUTTERS = [1 / 2000, 1 / 1000, 1 / 500, 1 / 250, 1 / 125, 1 / 60, 1 / 30, 1 / 15, 1 / 8, 1 / 4, 1 / 2, 1];

/** Shutter times as they stand on cameras. */
function Shutter({ spec, onChange }: Pick<SpecFormProps, 'spec' | 'onChange'>) {
  const nearest = SHUTTERS.reduce((p, q) =>
    Math.abs(Math.log(q / spec.shutterS)) < Math.abs(Math.log(p / spec.shutterS)) ? q : p,
  );
  return (
    <label>
      <span>Shutter</span>
      <select value={nearest} onChange={({ target }) => onChange({ shutterS: Number(target.value) })}>
        {SHUTTERS.map((seconds) => (
          <option key={seconds} value={seconds}>
            {seconds < 1 ? `1/${Math.round(1 / seconds)} s` : `${seconds} s`}
          </option>
        ))}
      </select>
    </label>
  );
}
