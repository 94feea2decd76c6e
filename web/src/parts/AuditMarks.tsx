import type { Figures, Verdict } from '@vitrocept/core';
import { figureText, limitText, MEASURE_NAMES, MEASURES, VERDICT_ORDER } from '../words';

/** Word and shape: open ring, half ring, solid square, dash. Never colour alone. */
export function VerdictMark({ verdict }: { verdict: Verdict }) {
  return <span className={`verdict-mark is-${verdict.replace(' ', '-')}`} role="img" aria-label={verdict} />;
}

/** From here on a cell has room for the limits of its figures, px. */
const ROOM_FOR_LIMITS = 430;

/** The two figures of a cell that want attention most; all of them on hover, with what they are measured against. */
export function AuditMarks({ figures, width = 0 }: { readonly figures: Figures | null; readonly width?: number }) {
  if (!figures) return <span className="text-soft">being audited</span>;
  const worst = [...MEASURES]
    .sort((p, q) => VERDICT_ORDER[figures[q].verdict] - VERDICT_ORDER[figures[p].verdict])
    .slice(0, 2);
  const all = MEASURES.map(
    (measure) =>
      `${MEASURE_NAMES[measure]}: ${figureText(measure, figures[measure])}, ${figures[measure].verdict}` +
      ` (${limitText(measure)})`,
  );
  return (
    <span className="audit-marks" title={all.join('\n')}>
      {worst.map((measure) => (
        <span key={measure}>
          <VerdictMark verdict={figures[measure].verdict} /> {MEASURE_NAMES[measure].split(' ')[0].toLowerCase()}{' '}
          {figureText(measure, figures[measure])}
          {width >= ROOM_FOR_LIMITS && <span className="text-soft"> ({limitText(measure).split(',')[0]})</span>}
        </span>
      ))}
    </span>
  );
}
