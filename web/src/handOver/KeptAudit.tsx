import { auditIsOld, worstOf, type Prescription } from '@vitrocept/core';
import { VerdictMark } from '../parts/AuditMarks';
import { keptAuditSentence, likenessSentence, MEASURES } from '../words';

/** What the audit said of the chosen trial when it was chosen. */
export function KeptAudit({ prescription }: { prescription: Prescription }) {
  if (!prescription.audit?.length && !prescription.likeness?.length) return null;
  return (
    <>
      <dt>Audit</dt>
      <dd>
        <ul className="kept-audit">
          {(prescription.audit ?? []).map((kept, i) => (
            <li key={`${kept.x} ${kept.y}`}>
              <VerdictMark verdict={worstOf(MEASURES.map((measure) => kept[measure]?.verdict ?? 'not measurable'))} />{' '}
              {keptAuditSentence(kept, `At ${kept.probe || `probe ${i + 1}`}`)}
            </li>
          ))}
          {(prescription.likeness ?? []).map((kept) => (
            <li key={`${kept.face} ${kept.part}`}>
              <VerdictMark verdict={worstOf([kept.shift, kept.hue, kept.structure].map((f) => f.verdict))} />{' '}
              {kept.face}, {kept.part}: {likenessSentence(kept)}
            </li>
          ))}
        </ul>
        {auditIsOld(prescription) && (
          <p className="text-soft">
            Mask, cleaning or reading have changed since: choose the trial again to have it judged as it is now.
          </p>
        )}
      </dd>
    </>
  );
}
