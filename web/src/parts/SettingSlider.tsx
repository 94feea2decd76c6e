import { useEffect, useId, useState } from 'react';

interface SettingSliderProps {
  readonly name: string;
  readonly unit?: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly step: number;
  /** The automatic value, marked by a notch; absent where there is none. */
  readonly automatic?: number;
  readonly isAuto?: boolean;
  readonly help?: string;
  /** Why the automatic value is what it is, in a word or two. */
  readonly autoNote?: string;
  onChange(value: number): void;
  onAutomatic?(): void;
}

/** A setting: its number with unit, a slider, a notch at the automatic value and one press to return to it. */
export function SettingSlider(props: SettingSliderProps) {
  const { name, unit = '', value, least, most, step, automatic, isAuto, autoNote, help, onChange, onAutomatic } = props;
  const id = useId();
  const digits = step < 1 ? 1 : 0;
  const [text, setText] = useState(value.toFixed(digits));
  useEffect(() => setText(value.toFixed(digits)), [value, digits]);

  const commit = () => {
    const typed = Number(text.replace(',', '.'));
    if (text.trim() === '' || !Number.isFinite(typed)) setText(value.toFixed(digits));
    else {
      const within = Math.min(most, Math.max(least, typed));
      setText(within.toFixed(digits));
      if (within !== value) onChange(within);
    }
  };
  const share = (at: number) => `${(100 * (Math.min(most, Math.max(least, at)) - least)) / (most - least)}%`;

  return (
    <div className="setting" title={help}>
      <div className="setting-head">
        <label htmlFor={id}>{name}</label>
        <span className="setting-number">
          <input
            inputMode="decimal"
            aria-label={`${name}, number`}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onBlur={commit}
            onKeyDown={(event) => {
              if (event.key === 'Enter') {
                // Leaving commits, and keys are tools again.
                event.currentTarget.blur();
                event.stopPropagation();
              }
            }}
          />
          <span className="unit">{unit}</span>
        </span>
      </div>
      <div className="setting-track" style={{ ['--share' as string]: share(value) }}>
        <input
          id={id}
          type="range"
          min={least}
          max={most}
          step={step}
          value={value}
          onChange={(event) => onChange(Number(event.target.value))}
        />
        {automatic !== undefined && <span className="notch" style={{ left: share(automatic) }} aria-hidden />}
      </div>
      <div className="setting-foot">
        {onAutomatic &&
          (isAuto ? (
            <span className="auto-mark">automatic{autoNote && `, ${autoNote}`}</span>
          ) : (
            <button type="button" className="link-button" onClick={onAutomatic}>
              back to {automatic?.toFixed(digits)}
            </button>
          ))}
      </div>
    </div>
  );
}
