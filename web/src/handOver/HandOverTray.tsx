import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  DEFAULT_JPEG_QUALITY,
  SAVE_FORMAT_DESCRIPTIONS,
  saveFormatsFor,
  stagesOf,
  wishesFault,
  type CopyWishes,
  type Prescription,
  type SaveFormat,
  type Stage,
} from '@vitrocept/core';
import { useStartRender, type FrameDetail } from '../api/queries';
import { KeepForm } from '../kept/KeepForm';
import { SettingSlider } from '../parts/SettingSlider';
import { useCopyStore } from '../stores/copyStore';
import { useFrameStore } from '../stores/frameStore';

const STAGE_NAMES: Record<Stage, string> = {
  original: 'as taken',
  cleaned: 'cleaned',
  recovered: 'recovered',
  finished: 'finished',
};

interface HandOverTrayProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly format: SaveFormat;
  readonly wishes: CopyWishes;
}

/** Format, quality and stage of the copy, and the press that makes it. */
export function HandOverTray({ frame, prescription, format, wishes }: HandOverTrayProps) {
  const { quality, set } = useCopyStore();
  const setFormat = (value: SaveFormat) => set({ format: value, colour: null });
  const saveNow = useFrameStore((state) => state.saveNow);
  const start = useStartRender();
  const [isUnsaved, setUnsaved] = useState(false);
  const [isKeeping, setKeeping] = useState(false);
  const stages = stagesOf(prescription);
  const [picked, setPicked] = useState<Stage | 'all'>('finished');
  const stage = picked === 'all' || stages.includes(picked) ? picked : stages.at(-1)!;
  const render = async () => {
    const revision = await saveNow(frame.id);
    setUnsaved(revision === null);
    if (revision === null) return;
    start.mutate({ frameId: frame.id, revision, format, quality, stages: stage === 'all' ? stages : [stage], wishes });
  };
  return (
    <section className="tray" aria-label="Tray">
      <div className="tray-block formats" role="radiogroup" aria-label="Format">
        {saveFormatsFor(frame.format === 'dng').map((value) => {
          const { name, help } = SAVE_FORMAT_DESCRIPTIONS[value];
          return (
            <label key={value} className={value === format ? 'is-picked' : ''}>
              <input
                type="radio"
                name="format"
                value={value}
                checked={value === format}
                disabled={stage === 'all' && value !== 'tiff16'}
                onChange={() => setFormat(value)}
              />
              <span>
                <strong>{name}</strong>
                <span className="text-soft">{help}</span>
              </span>
            </label>
          );
        })}
      </div>
      {format === 'jpeg' && (
        <SettingSlider
          name="Quality"
          value={quality}
          least={1}
          most={100}
          step={1}
          automatic={DEFAULT_JPEG_QUALITY}
          onChange={(value) => set({ quality: value })}
        />
      )}
      <div className="tray-acts">
        {stages.length > 1 && (
          <label className="stage-choice">
            Stage{' '}
            <select
              value={stage}
              onChange={({ target }) => {
                setPicked(target.value as Stage | 'all');
                if (target.value === 'all') setFormat('tiff16');
              }}
            >
              {stages.map((one) => (
                <option key={one} value={one}>
                  {STAGE_NAMES[one]}
                </option>
              ))}
              <option value="all">all, one page each (TIFF)</option>
            </select>
          </label>
        )}
        <Button disabled={start.isPending || wishesFault(wishes, format) !== null} onClick={() => void render()}>
          Render and save a copy
        </Button>
        <Button variant="outline-primary" onClick={() => setKeeping(true)}>
          Keep this prescription …
        </Button>
        <span className="text-soft">The original is never written over.</span>
        {isKeeping && <KeepForm frame={frame} prescription={prescription} onHide={() => setKeeping(false)} />}
        {isUnsaved && (
          <span className="text-damaged" role="alert">
            The last change is not saved yet, so nothing was started: the copy would not be what you see. Try again when
            it is.
          </span>
        )}
        {start.error && (
          <span className="text-damaged" role="alert">
            {start.error.message}
          </span>
        )}
      </div>
    </section>
  );
}
