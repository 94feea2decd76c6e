import { Fragment } from 'react';
import { fitFor, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';

const PLACES: Readonly<Record<number, string>> = { 250: 'in the hand', 600: 'at arm’s length', 1500: 'on a wall' };
/** Longer prints than this are told in metres, mm. */
const METRES_FROM = 1500;

const length = (mm: number) => (mm >= METRES_FROM ? `${(mm / 1000).toFixed(1)} m` : `${Math.round(mm / 10)} cm`);

/** The largest print, and which screens, at which the finished picture still looks sharp. */
export function FitForCard({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const fit = fitFor(prescription, frame);
  if (!fit) return null;
  const { prints, viewings, finestPx } = fit;
  const without = viewings.filter(({ isSharp }) => isSharp).map(({ viewing }) => viewing.name);
  return (
    <section className="card-plain" aria-label="Fit for">
      <h2>Fit for</h2>
      <dl className="facts wide">
        {prints.map(({ distanceMm, widthMm, heightMm }) => (
          <Fragment key={distanceMm}>
            <dt>A print {PLACES[distanceMm]}</dt>
            <dd className="figure">
              up to {length(widthMm)} × {length(heightMm)}
            </dd>
          </Fragment>
        ))}
      </dl>
      <p className="hint">
        {without.length > 0
          ? `For ${without.join(', ')} without reserve.`
          : 'On no screen in common use does it look wholly sharp.'}{' '}
        From its finest lines, {finestPx.toFixed(1)} px wide, and an eye that tells one minute of arc apart.
      </p>
    </section>
  );
}
