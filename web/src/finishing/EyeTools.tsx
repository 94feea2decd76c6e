import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import {
  addLocalChange,
  CHANGE_KEYS,
  CHANGES,
  changeLocal,
  MOST_LOCAL_CHANGES,
  moveLocal,
  oppositeOf,
  plansOf,
  removeLocal,
  withLocal,
  type FinishingFault,
  type LocalChange,
  type MaskOperation,
  type Prescription,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { newId } from '../input/newId';
import { NumberField } from '../parts/NumberField';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { faultOf } from './useFinishingFaults';

/** Half axes of a first oval, of the frame. */
const FIRST_OVAL = { rx: 0.22, ry: 0.28 };

interface EyeToolsProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly faults: readonly FinishingFault[];
}

/** Local changes: each under a mask of its own. */
export function EyeTools({ frame, prescription, faults }: EyeToolsProps) {
  const change = useFrameStore((state) => state.change);
  const changes = prescription.finishing?.localChanges ?? [];
  const [pickedId, setPickedId] = useState<string | null>(null);
  const picked = changes.find(({ mask }) => mask.id === pickedId) ?? changes.at(-1) ?? null;
  const masks = [...plansOf(prescription).map(({ mask }) => mask), ...changes.map(({ mask }) => mask)].filter(
    ({ operations }) => operations.length > 0,
  );
  const add = (name: string, operations: readonly MaskOperation[]) => {
    const id = newId();
    change((old) => addLocalChange(old, name, operations, () => id));
    setPickedId(id);
  };
  const oval = () =>
    add(`oval ${changes.length + 1}`, [
      {
        kind: 'radial',
        mode: 'add',
        x: Math.round(frame.width / 2),
        y: Math.round(frame.height / 2),
        rx: Math.round(frame.width * FIRST_OVAL.rx),
        ry: Math.round(frame.height * FIRST_OVAL.ry),
        featherPercent: 60,
      },
    ]);
  const isFull = changes.length >= MOST_LOCAL_CHANGES;
  return (
    <>
      <div className="tray-block local-list">
        <ol aria-label="Local changes">
          {changes.map(({ mask }, i) => (
            <li key={mask.id} className={mask === picked?.mask ? 'is-picked' : ''}>
              <button type="button" className="link-button" onClick={() => setPickedId(mask.id)}>
                {i + 1} {mask.name}
              </button>
              <span className="local-acts">
                <button
                  type="button"
                  className="link-button"
                  aria-label={`${mask.name} earlier`}
                  disabled={i === 0}
                  onClick={() => change((old) => moveLocal(old, mask.id, -1))}
                >
                  ↑
                </button>
                <button
                  type="button"
                  className="link-button"
                  aria-label={`${mask.name} later`}
                  disabled={i === changes.length - 1}
                  onClick={() => change((old) => moveLocal(old, mask.id, 1))}
                >
                  ↓
                </button>
                <button
                  type="button"
                  className="link-button"
                  aria-label={`Remove ${mask.name}`}
                  onClick={() => change((old) => removeLocal(old, mask.id))}
                >
                  ×
                </button>
              </span>
            </li>
          ))}
        </ol>
        <div className="tray-buttons">
          <Button size="sm" variant="outline-primary" disabled={isFull} onClick={oval}>
            New oval
          </Button>
          {masks.length > 0 && (
            <select
              aria-label="New change under the opposite of a mask"
              value=""
              disabled={isFull}
              onChange={({ target }) => {
                const mask = masks.find(({ id }) => id === target.value);
                if (mask) add(`all but ${mask.name}`, oppositeOf(mask.operations));
              }}
            >
              <option value="">opposite of …</option>
              {masks.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          )}
          {masks.length > 0 && (
            <select
              aria-label="New change under a copy of a mask"
              value=""
              disabled={isFull}
              onChange={({ target }) => {
                const mask = masks.find(({ id }) => id === target.value);
                if (mask) add(`${mask.name}`, mask.operations);
              }}
            >
              <option value="">same as …</option>
              {masks.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          )}
        </div>
      </div>
      {picked ? (
        <LocalSliders picked={picked} faults={faults} />
      ) : (
        <p className="text-soft">
          A little light where the eye should go, a little less around it: begin with an oval, or with all but the
          subject.
        </p>
      )}
    </>
  );
}

function LocalSliders({ picked, faults }: { picked: LocalChange; faults: readonly FinishingFault[] }) {
  const change = useFrameStore((state) => state.change);
  const { mask } = picked;
  return (
    <>
      <div className="tray-block">
        <input
          className="mask-name"
          aria-label="Name of the local change"
          value={mask.name}
          maxLength={80}
          onChange={({ target }) =>
            change(
              (old) =>
                changeLocal(old, mask.id, (one) => ({ ...one, mask: { ...one.mask, name: target.value || ' ' } })),
              `local name ${mask.id}`,
            )
          }
        />
        <label className="figure">
          opacity{' '}
          <NumberField
            label="Opacity of the local change"
            value={mask.opacityPercent}
            least={0}
            most={100}
            onChange={(opacityPercent) =>
              change((old) => changeLocal(old, mask.id, (one) => ({ ...one, mask: { ...one.mask, opacityPercent } })))
            }
          />{' '}
          %
        </label>
        <Link to={`masks/${mask.id}`} className="btn btn-sm btn-outline-primary">
          Change where
        </Link>
      </div>
      <div className="tray-sliders two">
        {CHANGE_KEYS.map((key) => (
          <SettingSlider
            key={key}
            {...CHANGES[key]}
            value={picked[key]}
            automatic={0}
            isAuto={picked[key] === 0}
            restsAt={picked[key] === 0 ? 'changes nothing' : undefined}
            fault={faultOf(faults, mask.id, key)}
            onChange={(value) => change((old) => withLocal(old, mask.id, key, value), `local ${mask.id} ${key}`)}
            onAutomatic={() => change((old) => withLocal(old, mask.id, key, 0))}
          />
        ))}
      </div>
    </>
  );
}
