import { METHOD_DESCRIPTIONS, type AcceptedReading, type MeasuredOver, type Prescription } from '@vitrocept/core';
import type { ReactNode } from 'react';
import type { FrameDetail } from '../api/queries';
import { causeSentence, PILE_NAMES } from '../words';
import { PsfDrawing } from '../parts/PsfDrawing';
import { isReadingStale } from '../parts/StepRule';

const OVER_WORDS: Record<MeasuredOver['kind'], string> = {
  mask: 'over the mask',
  box: 'over the box',
  centre: 'over the centre 50 %',
  richest: 'where most detail is',
  whole: 'over the whole frame',
};

interface Props {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** Stands under the cause. */
  readonly children?: ReactNode;
}

export function ReadingCard({ frame, prescription, children }: Props) {
  const { reading } = prescription;
  if (!reading) return <ReadingMissing frame={frame} />;
  const { measured } = reading;
  const isStale = isReadingStale(prescription);
  return (
    <section className="card-plain reading" aria-label="Reading">
      <div className="card-head">
        <h2>Reading</h2>
        <span className="text-soft">{OVER_WORDS[measured.over.kind]}</span>
      </div>
      <div className="reading-cause">
        <PsfDrawing
          method={reading.method}
          blurSizePx={reading.blurSizePx}
          directionDeg={reading.directionDeg}
          path={reading.path}
        />
        <div>
          <strong>{causeSentence(reading.method, reading.blurSizePx, reading.directionDeg)}</strong>
          <div className="text-soft">
            {reading.auto ? (
              <>
                {Math.round(measured.confidence * 100)} % sure
                {measured.runnerUp && ` · runner-up ${METHOD_DESCRIPTIONS[measured.runnerUp].name}`}
              </>
            ) : (
              `set by hand; measured: ${causeSentence(measured.method, measured.blurSizePx, measured.directionDeg)}`
            )}
          </div>
        </div>
      </div>
      {children}
      {reading.auto && reading.sizes.length > 1 && (
        <p className="hint">
          Changes over the subject: {spreadOf(reading.sizes)} px. Recovery follows it place by place.
        </p>
      )}
      {reading.method === 'camera-shake' && reading.path?.places && (
        <p className="hint">
          The camera turned as well: the path changes over the frame. Recovery follows it place by place.
        </p>
      )}
      {isStale && (
        <p className="out-of-date">Out of date: the mask has changed since. Measure again in the Measure step.</p>
      )}
      <dl className="facts">
        <dt>Noise</dt>
        <dd className="figure">{measured.noisePercent.toFixed(1)} % at mid-tone</dd>
        <dt>Finest detail</dt>
        <dd>
          {measured.finestNowPx.toFixed(1)} px now
          {measured.finestRecoverablePx < measured.finestNowPx - 0.2 &&
            `, ${measured.finestRecoverablePx.toFixed(1)} px to be had`}
        </dd>
        <dt>Clipping</dt>
        <dd>
          {measured.clippedWhitePercent.toFixed(1)} % white, {measured.clippedBlackPercent.toFixed(1)} % black
        </dd>
        <dt>Pile</dt>
        <dd>{PILE_NAMES[measured.pile]}</dd>
      </dl>
    </section>
  );
}

/** From the tenth to the ninetieth percentile. */
function spreadOf(sizes: AcceptedReading['sizes']): string {
  const sorted = sizes.map(({ blurSizePx }) => blurSizePx).sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))].toFixed(0);
  return `${at(0.1)} to ${at(0.9)}`;
}

function ReadingMissing({ frame }: { frame: FrameDetail }) {
  const { state, reading, error } = frame.firstReading;
  const rough = reading && `${PILE_NAMES[reading.pile]}, noise ${reading.noisePercent.toFixed(1)} %`;
  return (
    <section className="card-plain reading" aria-label="Reading">
      <div className="card-head">
        <h2>Reading</h2>
      </div>
      <p className="text-soft">
        {state === 'failed'
          ? `Could not be measured: ${error} Draw a box or a mask in the Measure step and try again.`
          : state === 'sorted'
            ? `At a first look: ${rough}. The subject is being measured …`
            : 'Being measured …'}
      </p>
    </section>
  );
}
