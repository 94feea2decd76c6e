import Button from 'react-bootstrap/Button';
import {
  automaticCleaning,
  changeCleaning,
  plansOf,
  withCleaning,
  type Cleaning,
  type Prescription,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { CHANNEL_NAMES, CLEANING_SLIDERS } from '../words';
import { ToneBand } from './ToneBand';

/** The settings of the cleaning. */
export function NoiseTray({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const change = useFrameStore((state) => state.change);
  const { cleaning, reading } = prescription;
  const automatic = automaticCleaning(reading);
  const set = (part: Partial<Cleaning>, merge: string) => change((old) => changeCleaning(old, part), merge);
  const masks = plansOf(prescription)
    .map(({ mask }) => mask)
    .filter(({ operations }) => operations.length > 0);
  return (
    <section className="tray noise-tray" aria-label="Tray">
      <div className="tray-block">
        <strong>Cleaning</strong>
        {!cleaning && (
          <span className="text-soft">
            The frame is left as it is. Cleaning comes first, before anything is recovered.
          </span>
        )}
        <div className="tray-buttons">
          <Button
            size="sm"
            variant={cleaning ? 'outline-primary' : 'primary'}
            onClick={() => change((old) => withCleaning(old, automatic))}
          >
            {cleaning ? 'all Automatic' : 'Clean on Automatic'}
          </Button>
          {cleaning && (
            <Button size="sm" variant="outline-primary" onClick={() => change((old) => withCleaning(old, null))}>
              Do not clean
            </Button>
          )}
        </div>
        {cleaning && masks.length > 0 && (
          <select
            aria-label="Where it is cleaned"
            value={masks.some(({ id }) => id === cleaning.maskId) ? (cleaning.maskId ?? '') : ''}
            onChange={(event) => set({ maskId: event.target.value || null }, '')}
          >
            <option value="">everywhere</option>
            {masks.map(({ id, name }) => (
              <option key={id} value={id}>
                inside mask “{name}”
              </option>
            ))}
          </select>
        )}
      </div>
      {cleaning && (
        <>
          <div className="tray-sliders">
            {CLEANING_SLIDERS.map(({ key, ...slider }) => (
              <SettingSlider
                key={key}
                {...slider}
                value={cleaning[key].value}
                automatic={automatic[key].value}
                isAuto={cleaning[key].auto}
                onChange={(value) => set({ [key]: { value, auto: false } }, `cleaning ${key}`)}
                onAutomatic={() => set({ [key]: automatic[key] }, '')}
              />
            ))}
          </div>
          {frame.channels === 3 && (
            <div className="tray-block channel-shares">
              <span>Share of each channel</span>
              {CHANNEL_NAMES.map((name, c) => {
                const percent = cleaning.channelPercents[c] ?? 100;
                return (
                  <label key={name}>
                    <span>{name}</span>
                    <span className="setting-track" style={{ ['--share' as string]: `${percent}%` }}>
                      <input
                        type="range"
                        min={0}
                        max={100}
                        value={percent}
                        aria-label={`${name}, how far it is cleaned`}
                        onChange={({ target }) => {
                          const channelPercents = CHANNEL_NAMES.map((_, i) =>
                            i === c ? Number(target.value) : (cleaning.channelPercents[i] ?? 100),
                          );
                          set({ channelPercents }, `cleaning channel ${c}`);
                        }}
                      />
                    </span>
                    <span className="figure">{percent} %</span>
                  </label>
                );
              })}
            </div>
          )}
          <ToneBand frame={frame} band={cleaning.band} onChange={(band, merge) => set({ band }, merge)} />
        </>
      )}
    </section>
  );
}
