import {
  plansOf,
  withMask,
  withMaskMoved,
  withNewMask,
  withoutMask,
  workOn,
  type Prescription,
  METHOD_DESCRIPTIONS,
} from '@vitrocept/core';
import { useBrushStore } from '../stores/brushStore';
import { useFrameStore } from '../stores/frameStore';

import { NumberField } from './NumberField';
import { newId } from '../input/newId';

/** The masks of the frame, the uppermost first: which is at work, how far each reaches, what is recovered under it. */
export function MaskList({ prescription }: { prescription: Prescription }) {
  const change = useFrameStore((state) => state.change);
  const release = () => useBrushStore.getState().set({ selected: null });
  const plans = plansOf(prescription);
  const isOnly = plans.length === 1;
  return (
    <section className="card-plain mask-list" aria-label="Masks">
      <div className="card-head">
        <strong>Masks</strong>
        <button
          type="button"
          className="link-button"
          onClick={() => {
            release();
            change((old) => withNewMask(old, newId(), freeName(old)));
          }}
        >
          new mask
        </button>
      </div>
      <ol>
        {plans
          .map(({ mask, recovery }, i) => {
            const isAtWork = mask.id === prescription.mask.id;
            return (
              <li key={mask.id} className={isAtWork ? 'is-at-work' : ''}>
                <input
                  type="radio"
                  name="mask-at-work"
                  aria-label={`Work on ${mask.name}`}
                  checked={isAtWork}
                  onChange={() => {
                    release();
                    change((old) => workOn(old, mask.id));
                  }}
                />
                <input
                  className="mask-name"
                  aria-label={`Name of mask ${i + 1}`}
                  value={mask.name}
                  maxLength={80}
                  onChange={({ target }) => {
                    const name = target.value || ' ';
                    change((old) => withMask(old, mask.id, (one) => ({ ...one, name })), `name ${mask.id}`);
                  }}
                />
                <label className="mask-opacity">
                  <NumberField
                    label={`Opacity of ${mask.name}`}
                    value={mask.opacityPercent}
                    least={0}
                    most={100}
                    onChange={(opacityPercent) =>
                      change(
                        (old) => withMask(old, mask.id, (one) => ({ ...one, opacityPercent })),
                        `opacity ${mask.id}`,
                      )
                    }
                  />{' '}
                  %
                </label>
                <span className="mask-plan text-soft">
                  {recovery
                    ? `${METHOD_DESCRIPTIONS[recovery.method].name}, amount ${recovery.amount.value}`
                    : 'nothing chosen yet'}
                </span>
                {!isOnly && (
                  <span className="operation-acts">
                    {i + 1 < plans.length && (
                      <button
                        type="button"
                        className="link-button"
                        aria-label={`Up: ${mask.name}`}
                        onClick={() => change((old) => withMaskMoved(old, mask.id, 1))}
                      >
                        up
                      </button>
                    )}
                    {i > 0 && (
                      <button
                        type="button"
                        className="link-button"
                        aria-label={`Down: ${mask.name}`}
                        onClick={() => change((old) => withMaskMoved(old, mask.id, -1))}
                      >
                        down
                      </button>
                    )}
                    <button
                      type="button"
                      className="link-button"
                      aria-label={`Remove mask ${mask.name}`}
                      onClick={() => {
                        release();
                        change((old) => withoutMask(old, mask.id));
                      }}
                    >
                      remove
                    </button>
                  </span>
                )}
              </li>
            );
          })
          .reverse()}
      </ol>
      {!isOnly && <p className="hint">Where masks overlap the upper one counts, as far as it covers.</p>}
    </section>
  );
}

function freeName(old: Prescription): string {
  const names = plansOf(old).map(({ mask }) => mask.name);
  for (let i = names.length + 1; ; i++) if (!names.includes(`mask ${i}`)) return `mask ${i}`;
}
