import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { automaticCleaning, changeCleaning, withCleaning, type Prescription } from '@vitrocept/core';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { CLEANING_SLIDERS } from '../words';

const BALANCED = CLEANING_SLIDERS.filter(({ key }) => key === 'luminance' || key === 'detailKept').map((slider) => ({
  ...slider,
  name: slider.key === 'luminance' ? 'Luminance' : slider.name,
}));

/** Cleaning beside the recovery of the selected trial: each is set again after the other. */
export function Balance({ prescription }: { prescription: Prescription }) {
  const change = useFrameStore((state) => state.change);
  const { cleaning, reading } = prescription;
  const automatic = automaticCleaning(reading);
  return (
    <div className="balance" role="group" aria-label="Cleaning before it">
      <Link to="../noise" title="All settings of the cleaning, and what it removes">
        Cleaning before it
      </Link>
      {cleaning ? (
        BALANCED.map(({ key, ...slider }) => (
          <SettingSlider
            key={key}
            {...slider}
            value={cleaning[key].value}
            automatic={automatic[key].value}
            isAuto={cleaning[key].auto}
            onChange={(value) =>
              change((old) => changeCleaning(old, { [key]: { value, auto: false } }), `cleaning ${key}`)
            }
            onAutomatic={() => change((old) => changeCleaning(old, { [key]: automatic[key] }))}
          />
        ))
      ) : (
        <>
          <span className="text-soft">none</span>
          <Button
            size="sm"
            variant="outline-primary"
            title="Less noise is left to guard against then: noise guards on Automatic fall"
            onClick={() => change((old) => withCleaning(old, automatic))}
          >
            Clean first
          </Button>
        </>
      )}
    </div>
  );
}
