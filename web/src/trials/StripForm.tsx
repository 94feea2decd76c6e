import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';
import { useForm } from 'react-hook-form';
import { yupResolver } from '@hookform/resolvers/yup';
import { mixed, number, object, ref } from 'yup';
import {
  MOST_TRIALS,
  stripValues,
  type StripPlan,
  type Trial,
  METHOD_DESCRIPTIONS,
  SETTINGS,
  type SettingKey,
} from '@vitrocept/core';

interface StripFormProps {
  readonly trial: Trial;
  readonly letter: string;
  /** How many trials may still come, the one that is replaced counted. */
  readonly room: number;
  onPlan(plan: StripPlan): void;
  onHide(): void;
}

/** Asks from where to where, and in how many steps, one setting goes in a test strip. */
export function StripForm({ trial, letter, room, onPlan, onHide }: StripFormProps) {
  const [key, setKey] = useState<SettingKey>('amount');
  const { least, most, unit = '' } = SETTINGS[key];
  const schema = object({
    from: number()
      .typeError('A number, please.')
      .min(least, `At least ${least}.`)
      .max(most, `At most ${most}.`)
      .required(),
    to: number()
      .typeError('A number, please.')
      .min(least, `At least ${least}.`)
      .max(most, `At most ${most}.`)
      .notOneOf([ref('from')], 'From and to must differ.')
      .required(),
    count: number()
      .typeError('A number, please.')
      .integer('A whole number.')
      .min(2, 'At least 2.')
      .max(room, `At most ${room}: the Wall holds ${MOST_TRIALS} trials.`)
      .required(),
    steps: mixed<StripPlan['steps']>()
      .oneOf(['even', 'by-ratio'])
      .required()
      .when('from', ([from], field) =>
        from === 0 ? field.notOneOf(['by-ratio'], 'Steps by ratio cannot start at 0.') : field,
      ),
  });
  const around = (at: SettingKey) => {
    const limits = SETTINGS[at];
    if (at === 'amount') return { from: 20, to: 100 };
    if (at === 'blurSizePx') {
      const { value } = trial.blurSizePx;
      return {
        from: Math.max(limits.least, Math.round(7 * value) / 10),
        to: Math.min(limits.most, Math.round(14 * value) / 10),
      };
    }
    if (at === 'directionDeg') {
      const { value } = trial.directionDeg;
      return { from: Math.max(limits.least, value - 20), to: Math.min(limits.most, value + 20) };
    }
    return { from: limits.least, to: limits.most };
  };
  const { register, handleSubmit, formState, setValue, watch } = useForm({
    resolver: yupResolver(schema),
    defaultValues: { ...around(key), count: Math.min(5, room), steps: 'even' as StripPlan['steps'] },
    mode: 'onChange',
  });
  const now = watch();
  const values = schema.isValidSync(now) ? stripValues({ key, ...schema.cast(now) }) : [];

  return (
    <Modal show onHide={onHide} aria-labelledby="strip-title">
      <form onSubmit={(event) => void handleSubmit((plan) => onPlan({ key, ...plan }))(event)}>
        <Modal.Header closeButton>
          <Modal.Title id="strip-title">Test strip from {letter}</Modal.Title>
        </Modal.Header>
        <Modal.Body className="strip-form">
          <label htmlFor="strip-key">Setting</label>
          <select
            id="strip-key"
            value={key}
            onChange={(event) => {
              const next = event.target.value as SettingKey;
              setKey(next);
              const { from, to } = around(next);
              setValue('from', from);
              setValue('to', to);
            }}
          >
            {METHOD_DESCRIPTIONS[trial.method].settings.map((setting) => (
              <option key={setting} value={setting}>
                {SETTINGS[setting].name}
              </option>
            ))}
          </select>
          {(['from', 'to', 'count'] as const).map((field) => (
            <div key={field} className="strip-field">
              <label htmlFor={`strip-${field}`}>
                {field === 'count' ? 'How many' : field === 'from' ? `From ${unit}` : `To ${unit}`}
              </label>
              <input id={`strip-${field}`} inputMode="decimal" {...register(field)} />
              <span className="text-damaged" role="alert">
                {formState.errors[field]?.message}
              </span>
            </div>
          ))}
          <label htmlFor="strip-steps">Steps</label>
          <select id="strip-steps" {...register('steps')}>
            <option value="even">even: the same difference each time</option>
            <option value="by-ratio">by ratio: the same factor each time</option>
          </select>
          <span className="text-damaged" role="alert">
            {formState.errors.steps?.message}
          </span>
          <p className="text-soft figure">{values.join(' · ')}</p>
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit">Make the strip</Button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
