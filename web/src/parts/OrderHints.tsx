import { orderHints, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { HINT_WORDS } from '../words';

/** What was done, or is about to be, in an order that costs quality. */
export function OrderHints({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const hints = orderHints(prescription, frame, frame.exposure.iso);
  if (hints.length === 0) return null;
  const percent = prescription.reading?.measured.traces?.overshootPercent ?? 0;
  const overshoot = `Its sharp edges overshoot on both sides, by ${percent.toFixed(0)} % of their step. `;
  return (
    <section className="card-plain order-hints" aria-label="Order of work">
      <h2>Order of work</h2>
      <ul>
        {hints.map((hint) => (
          <li key={hint}>
            <strong>{HINT_WORDS[hint].title}.</strong> {hint === 'sharpened-before' && overshoot}
            {HINT_WORDS[hint].text}
          </li>
        ))}
      </ul>
    </section>
  );
}
