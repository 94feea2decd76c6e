import { orderHints, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { HINT_WORDS } from '../words';

/** What was done, or is about to be, in an order that costs quality. */
export function OrderHints({ frame, prescription }: { frame: FrameDetail; prescription: Prescription }) {
  const hints = orderHints(prescription, frame, frame.exposure.iso);
  if (hints.length === 0) return null;
  return (
    <section className="card-plain order-hints" aria-label="Order of work">
      <h2>Order of work</h2>
      <ul>
        {hints.map((hint) => (
          <li key={hint}>
            <strong>{HINT_WORDS[hint].title}.</strong> {HINT_WORDS[hint].text}
          </li>
        ))}
      </ul>
    </section>
  );
}
