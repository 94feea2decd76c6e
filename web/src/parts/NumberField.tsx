import { useState } from 'react';
import { typedNumber } from '../input/typedNumber';

interface NumberFieldProps {
  readonly id?: string;
  readonly label: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly step?: number;
  readonly digits?: number;
  onChange(value: number): void;
}

/** A number that can be typed: committed by Enter or by leaving, and only when something was typed. Arrows step it. */
export function NumberField({ id, label, value, least, most, step = 1, digits = 0, onChange }: NumberFieldProps) {
  /** What is being typed; null while the field shows the value. */
  const [draft, setDraft] = useState<string | null>(null);
  const shown = value.toFixed(digits);
  const commit = () => {
    const typed = draft === null || draft === shown ? null : typedNumber(draft, least, most);
    setDraft(null);
    if (typed !== null && typed !== value) onChange(typed);
  };
  return (
    <input
      id={id}
      inputMode="decimal"
      aria-label={label}
      value={draft ?? shown}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        const by = { ArrowUp: step, ArrowDown: -step }[event.key];
        if (event.key === 'Enter') {
          // Leaving commits, and keys are tools again.
          event.currentTarget.blur();
          event.stopPropagation();
        } else if (event.key === 'Escape' && draft !== null) {
          setDraft(null);
          event.stopPropagation();
        } else if (by) {
          const from = draft === null ? value : (typedNumber(draft, least, most) ?? value);
          setDraft(null);
          onChange(Math.min(most, Math.max(least, Number((from + by).toFixed(6)))));
          event.preventDefault();
        }
      }}
    />
  );
}
