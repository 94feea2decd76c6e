import Button from 'react-bootstrap/Button';
import ButtonGroup from 'react-bootstrap/ButtonGroup';
import type { CombineMode } from '@vitrocept/core';

interface ChoiceProps<T extends string> {
  readonly name: string;
  readonly options: readonly (readonly [T, string, string?])[];
  readonly value: T;
  onChange(value: T): void;
}

/** One of a few, side by side; a key may be written on each. */
export function Choice<T extends string>({ name, options, value, onChange }: ChoiceProps<T>) {
  return (
    <ButtonGroup size="sm" aria-label={name}>
      {options.map(([option, label, key]) => (
        <Button
          key={option}
          variant={option === value ? 'primary' : 'outline-primary'}
          aria-pressed={option === value}
          onClick={() => onChange(option)}
        >
          {label} {key && <kbd>{key}</kbd>}
        </Button>
      ))}
    </ButtonGroup>
  );
}

const MODES: readonly (readonly [CombineMode, string])[] = [
  ['add', 'Add'],
  ['erase', 'Take away'],
  ['intersect', 'Keep only'],
];

/** How a range or a shape joins what is there. */
export function CombineChoice({ value, onChange }: { value: CombineMode; onChange(mode: CombineMode): void }) {
  return <Choice name="How it joins" options={MODES} value={value} onChange={onChange} />;
}
