import { Fragment, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import {
  auditIsOld,
  isBlurMethod,
  maskOfCleaning,
  plansOf,
  stagesOf,
  worstOf,
  type Recovery,
  type Stage,
  METHOD_DESCRIPTIONS,
} from '@vitrocept/core';
import { useRenders, useStartRender } from '../api/queries';
import { RenderCard } from '../parts/RenderCard';
import { SettingSlider } from '../parts/SettingSlider';
import { useFrameStore } from '../stores/frameStore';
import { exposureText } from '../parts/exposureText';
import { VerdictMark } from '../parts/AuditMarks';
import { causeSentence, cleaningWords, keptSentence, likenessSentence, MEASURES } from '../words';
import { useWorkspace } from '../parts/useWorkspace';
import './handOver.css';

const FORMATS = [
  ['tiff16', 'TIFF, 16 bit', 'For the next editor: nothing is lost.'],
  ['png16', 'PNG, 16 bit', 'Nothing is lost; opens nearly everywhere.'],
  ['png8', 'PNG, 8 bit', 'Exact in 256 steps; smaller.'],
  ['jpeg', 'JPEG', 'For sending and showing; compressed again.'],
] as const;

const STAGE_NAMES: Record<Stage, string> = { original: 'as taken', cleaned: 'cleaned', recovered: 'recovered' };

type Format = (typeof FORMATS)[number][0];

/** The file for the next editor: rendered at full size by the server, kept in the outbox, downloaded here. */
export function HandOver() {
  const { frame, prescription } = useWorkspace();
  const saveNow = useFrameStore((state) => state.saveNow);
  const { data: renders } = useRenders();
  const start = useStartRender();
  const [isUnsaved, setUnsaved] = useState(false);
  const [format, setFormat] = useState<Format>('tiff16');
  const [quality, setQuality] = useState(92);
  const stages = stagesOf(prescription);
  const [picked, setPicked] = useState<Stage | 'all'>('recovered');
  const stage = picked === 'all' || stages.includes(picked) ? picked : stages.at(-1)!;
  const plans = plansOf(prescription);
  const recovered = plans.filter(({ recovery }) => recovery !== null);
  const own = renders?.filter((job) => job.frameId === frame.id) ?? [];
  const cleansAll = prescription.cleaning !== null && maskOfCleaning(prescription) === null;
  const hasMask = plans.length > 1 || prescription.mask.operations.length > 0;

  return (
    <>
      <div className="stage hand-over">
        <section className="card-plain" aria-label="What will be done">
          <h2>What will be done</h2>
          {stages.length > 1 ? (
            <dl className="facts wide">
              {prescription.cleaning && (
                <>
                  <dt>Cleaning</dt>
                  <dd>{cleaningWords(prescription.cleaning, maskOfCleaning(prescription)?.name ?? null)}</dd>
                </>
              )}
              {recovered.map(({ mask, recovery }) => (
                <Fragment key={mask.id}>
                  <dt>{recovered.length > 1 ? mask.name : 'Recovery'}</dt>
                  <dd>
                    {recoverySentence(recovery!)}{' '}
                    {hasMask ? `under mask “${mask.name}” at ${mask.opacityPercent} %` : 'over the whole frame'}
                  </dd>
                </Fragment>
              ))}
              {(prescription.audit?.length || prescription.likeness?.length) && (
                <>
                  <dt>Audit</dt>
                  <dd>
                    <ul className="kept-audit">
                      {(prescription.audit ?? []).map((kept, i) => (
                        <li key={`${kept.x} ${kept.y}`}>
                          <VerdictMark
                            verdict={worstOf(MEASURES.map((measure) => kept[measure]?.verdict ?? 'not measurable'))}
                          />{' '}
                          {keptSentence(kept, `At ${kept.probe || `probe ${i + 1}`}`)}
                        </li>
                      ))}
                      {(prescription.likeness ?? []).map((kept) => (
                        <li key={`${kept.face} ${kept.part}`}>
                          <VerdictMark
                            verdict={worstOf([kept.shift, kept.hue, kept.structure].map((f) => f.verdict))}
                          />{' '}
                          {kept.face}, {kept.part}: {likenessSentence(kept)}
                        </li>
                      ))}
                    </ul>
                    {auditIsOld(prescription) && (
                      <p className="text-soft">
                        Mask, cleaning or reading have changed since: choose the trial again to have it judged as it is
                        now.
                      </p>
                    )}
                  </dd>
                </>
              )}
              <dt>Untouched</dt>
              <dd>{untouchedSentence(hasMask && !cleansAll, format, frame.bits)}</dd>
              <dt>Size</dt>
              <dd className="figure">
                {frame.width} × {frame.height} px
              </dd>
              <dt>Colour</dt>
              <dd>{frame.profile}, as in the original</dd>
              <dt>Exposure</dt>
              <dd>{exposureText(frame.exposure) || 'the original says nothing'}</dd>
            </dl>
          ) : (
            <p className="text-soft">
              Nothing is cleaned and no recovery is chosen yet: the copy would hold the original’s pixels.{' '}
              <Link to="../trials">Choose a trial</Link> first, or hand over the frame as it is.
            </p>
          )}
        </section>
        <section className="render-list" aria-label="Renders of this frame">
          {own.map((job) => (
            <RenderCard key={job.id} job={job} />
          ))}
          {own.length === 0 && (
            <p className="stage-hint-text">
              Renders of this frame appear here and stay in the outbox of the data folder.
            </p>
          )}
        </section>
      </div>
      <section className="tray" aria-label="Tray">
        <div className="tray-block formats" role="radiogroup" aria-label="Format">
          {FORMATS.map(([value, name, help]) => (
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
          ))}
        </div>
        {format === 'jpeg' && (
          <SettingSlider
            name="Quality"
            value={quality}
            least={1}
            most={100}
            step={1}
            automatic={92}
            onChange={setQuality}
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
          <Button
            disabled={start.isPending}
            onClick={async () => {
              const revision = await saveNow(frame.id);
              setUnsaved(revision === null);
              if (revision === null) return;
              start.mutate({
                frameId: frame.id,
                revision,
                format,
                quality,
                stages: stage === 'all' ? stages : [stage],
              });
            }}
          >
            Render and save a copy
          </Button>
          <span className="text-soft">The original is never written over.</span>
          {isUnsaved && (
            <span className="text-damaged" role="alert">
              The last change is not saved yet, so nothing was started: the copy would not be what you see. Try again
              when it is.
            </span>
          )}
          {start.error && (
            <span className="text-damaged" role="alert">
              {start.error.message}
            </span>
          )}
        </div>
      </section>
    </>
  );
}

function recoverySentence({ method, amount, blurSizePx, directionDeg }: Recovery): string {
  const size = isBlurMethod(method)
    ? causeSentence(method, blurSizePx.value, directionDeg.value).split(', ')[1]
    : `${blurSizePx.value.toFixed(1)} px`;
  return `${METHOD_DESCRIPTIONS[method].name}, amount ${amount.value.toFixed(0)} · ${size}`;
}

/** What is promised of the pixels outside the mask, in the chosen format. */
function untouchedSentence(isLimited: boolean, format: Format, bits: 8 | 16): string {
  if (!isLimited) return 'nothing: no mask limits what is done';
  if (format === 'jpeg') return 'not promised: JPEG compresses every pixel again';
  if (format === 'png8' && bits === 16) return 'not promised: 8 bits hold less than the original’s 16';
  return 'outside the mask every pixel keeps its exact value';
}
