import type { Figures, Verdict } from '@vitrocept/core';
import { figureText, MEASURE_NAMES, MEASURES, VERDICT_ORDER } from '../words';

/** Word and shape: open ring, half ring, solid square, dash. Never colour alone. */
export function VerdictMark({ verdict }: { verdict: Verdict }) {
  return <span className={`verdict-mark is-${verdict.replace(' ', '-')}`} role="img" aria-label={verdict} />;
}

/** The two figures of a cell that want attention most; all of them on hover. */
export function AuditMarks({ figures }: { figures: Figures | null }) {
  if (!figures) return <span className="text-soft">being audited</span>;
  const worst = [...MEASURES]
    .sort((p, q) => VERDICT_ORDER[figures[q].verdict] - VERDICT_ORDER[figures[p].verdict])
    .slice(0, 2);
  const all = MEASURES.map(
    (measure) => `${MEASURE_NAMES[measure]}: ${figureText(measure, figures[measure])}, ${figures[measure].verdict}`,
  );
  return (
    <span className="audit-marks" title={all.join('\n')}>
      {worst.map((measure) => (
        <span key={measure}>
          <VerdictMark verdict={figures[measure].verdict} /> {MEASURE_NAMES[measure].split(' ')[0].toLowerCase()}{' '}
          {figureText(measure, figures[measure])}
        </span>
      ))}
    </span>
  );
}
