import { Fragment } from 'react';
import { Link } from 'react-router';
import {
  CoreError,
  isBlurMethod,
  isFinished,
  maskOfCleaning,
  METHOD_DESCRIPTIONS,
  plansOf,
  SAVE_FORMAT_DESCRIPTIONS,
  sizeAfter,
  stagesOf,
  type Prescription,
  type Recovery,
  type SaveFormat,
  type Size,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { exposureText } from '../parts/exposureText';
import { cleaningWords, sizeWords } from '../words';
import { correctionWords, finishingWords, framingWords } from './finishedWords';
import { KeptAudit } from './KeptAudit';

interface WhatWillBeDoneProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly format: SaveFormat;
}

/** The prescription in plain words, and what is promised of the file. */
export function WhatWillBeDone({ frame, prescription, format }: WhatWillBeDoneProps) {
  const { corrections, finishing, geometry, mends = [] } = prescription;
  const plans = plansOf(prescription);
  const recovered = plans.filter(({ recovery }) => recovery !== null);
  const cleansAll = prescription.cleaning !== null && maskOfCleaning(prescription) === null;
  const hasMask = plans.length > 1 || prescription.mask.operations.length > 0;
  return (
    <section className="card-plain" aria-label="What will be done">
      <h2>What will be done</h2>
      {stagesOf(prescription).length > 1 || geometry ? (
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
          <KeptAudit prescription={prescription} />
          {mends.length > 0 && (
            <>
              <dt>Mended</dt>
              <dd>{mends.length === 1 ? 'one place' : `${mends.length} places`}, covered from their surroundings</dd>
            </>
          )}
          {corrections && (
            <>
              <dt>Corrections</dt>
              <dd>{correctionWords(corrections)}</dd>
            </>
          )}
          {finishing && (
            <>
              <dt>Finishing</dt>
              <dd>{finishingWords(finishing)}</dd>
            </>
          )}
          {geometry && (
            <>
              <dt>Framing</dt>
              <dd>{framingWords(geometry)}</dd>
            </>
          )}
          <dt>Untouched</dt>
          <dd>{untouchedSentence(hasMask && !cleansAll && !isFinished(prescription), format, frame.bits)}</dd>
          <dt>Size</dt>
          <dd className="figure">{sizeSentence(prescription, frame)}</dd>
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
  );
}

function recoverySentence({ method, amount, blurSizePx, directionDeg }: Recovery): string {
  const size = isBlurMethod(method)
    ? sizeWords(method, blurSizePx.value, directionDeg.value)
    : `${blurSizePx.value.toFixed(1)} px`;
  return `${METHOD_DESCRIPTIONS[method].name}, amount ${amount.value.toFixed(0)} · ${size}`;
}

/** Of the finished picture; where it is not the frame's, the frame's too. */
function sizeSentence(prescription: Prescription, frame: Size): string {
  const px = ({ width, height }: Size) => `${width} × ${height} px`;
  try {
    const size = sizeAfter(prescription, frame);
    return px(size) === px(frame) ? px(size) : `${px(size)}, of a frame of ${px(frame)}`;
  } catch (error) {
    if (error instanceof CoreError) return error.message;
    throw error;
  }
}

/** What is promised of the pixels outside the mask, in the chosen format. */
function untouchedSentence(isLimited: boolean, format: SaveFormat, bits: 8 | 16): string {
  if (!isLimited) return 'nothing: no mask limits what is done';
  const to = SAVE_FORMAT_DESCRIPTIONS[format];
  if (!to.isExact) return 'not promised: JPEG compresses every pixel again';
  if (to.bits < bits) return 'not promised: 8 bits hold less than the original’s 16';
  return 'outside the mask every pixel keeps its exact value';
}
