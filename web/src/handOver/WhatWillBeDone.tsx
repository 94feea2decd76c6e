import { Fragment } from 'react';
import { Link } from 'react-router';
import {
  COPY_COLOUR_NAMES,
  CoreError,
  finishedSizeWords,
  prescriptionWords,
  untouchedWords,
  type CopyColour,
  type Prescription,
  type SaveFormat,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { exposureText } from '../parts/exposureText';
import { KeptAudit } from './KeptAudit';

interface WhatWillBeDoneProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly format: SaveFormat;
  readonly colour: CopyColour;
}

/** The prescription in plain words, and what is promised of the file. */
export function WhatWillBeDone({ frame, prescription, format, colour }: WhatWillBeDoneProps) {
  const told = prescriptionWords(prescription);
  const isConverted = colour !== 'as-original';
  return (
    <section className="card-plain" aria-label="What will be done">
      <h2>What will be done</h2>
      {told.length > 0 ? (
        <dl className="facts wide">
          {told.map(({ term, text }) => (
            <Fragment key={term}>
              <dt>{term}</dt>
              <dd>{text}</dd>
            </Fragment>
          ))}
          <KeptAudit prescription={prescription} />
          <dt>Untouched</dt>
          <dd>{untouchedWords(prescription, format, frame.bits, isConverted)}</dd>
          <dt>Size</dt>
          <dd className="figure">{sizeSentence(prescription, frame)}</dd>
          <dt>Colour</dt>
          <dd>
            {isConverted
              ? `${COPY_COLOUR_NAMES[colour]}, from ${frame.profile}`
              : `${frame.profile}, as in the original`}
          </dd>
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

function sizeSentence(prescription: Prescription, frame: FrameDetail): string {
  try {
    return finishedSizeWords(prescription, frame);
  } catch (error) {
    if (error instanceof CoreError) return error.message;
    throw error;
  }
}
