import { useId } from 'react';
import { NumberField } from './NumberField';
import { placeOnSlider, SLIDER_STEPS, valueOnSlider } from '../input/typedNumber';

interface SettingSliderProps {
  readonly name: string;
  readonly unit?: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly step: number;
  /** The slider is finer for small values. */
  readonly isFineBelow?: boolean;
  /** The automatic value, marked by a notch; absent where there is none. */
  readonly automatic?: number;
  readonly isAuto?: boolean;
  readonly help?: string;
  /** Why the automatic value is what it is, in a word or two. */
  readonly autoNote?: string;
  /** Said in place of *automatic* where the value rests at its notch. */
  readonly restsAt?: string;
  /** What goes too far, and the last value at which it does not. */
  readonly fault?: { readonly says: string; readonly lastSafe: number } | null;
  onChange(value: number): void;
  onAutomatic?(): void;
}

/** A setting: its number with unit, a slider, a notch at the automatic value and one press to return to it. */
export function SettingSlider(props: SettingSliderProps) {
  const { name, unit = '', value, least, most, step, automatic, isAuto, autoNote, restsAt, help, onChange } = props;
  const { fault } = props;
  const { isFineBelow = false, onAutomatic } = props;
  const id = useId();
  const digits = step < 0.01 ? 3 : step < 0.1 ? 2 : step < 1 ? 1 : 0;
  const share = (at: number) => {
    const linear = (Math.min(most, Math.max(least, at)) - least) / (most - least);
    return `${100 * (isFineBelow ? Math.sqrt(linear) : linear)}%`;
  };

  return (
    <div className="setting" title={help}>
      <div className="setting-head">
        <label htmlFor={id}>{name}</label>
        <span className="setting-number">
          <NumberField label={`${name}, number`} {...{ value, least, most, step, digits, onChange }} />
          <span className="unit">{unit}</span>
        </span>
      </div>
      <div className="setting-track" style={{ ['--share' as string]: share(value) }}>
        <input
          id={id}
          type="range"
          {...(isFineBelow
            ? { min: 0, max: SLIDER_STEPS, step: 1, value: placeOnSlider(value, least, most) }
            : { min: least, max: most, step, value })}
          aria-valuetext={`${value.toFixed(digits)} ${unit}`}
          onChange={({ target }) =>
            onChange(isFineBelow ? valueOnSlider(Number(target.value), value, least, most, step) : Number(target.value))
          }
        />
        {automatic !== undefined && <span className="notch" style={{ left: share(automatic) }} aria-hidden />}
      </div>
      <div className="setting-foot">
        {fault ? (
          <span className="text-check setting-fault">
            {fault.says}{' '}
            <button type="button" className="link-button" onClick={() => onChange(fault.lastSafe)}>
              back to {fault.lastSafe}
            </button>
          </span>
        ) : (
          onAutomatic &&
          (isAuto ? (
            <span className="auto-mark">{restsAt ?? `automatic${autoNote ? `, ${autoNote}` : ''}`}</span>
          ) : (
            <button type="button" className="link-button" onClick={onAutomatic}>
              back to {automatic?.toFixed(digits)}
            </button>
          ))
        )}
      </div>
    </div>
  );
}
