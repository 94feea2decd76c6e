import { useState } from 'react';
import type { Region } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { AuditMarks } from '../parts/AuditMarks';
import type { Column } from '../surfaces/tileKeys';
import { useRegionAudit } from './useAudits';
import { worstSentence } from '../words';
import { Unfinished } from '../parts/Unfinished';

interface WholeMaskAuditProps {
  readonly frame: WorkerFrame;
  readonly column: Column;
  readonly region: Region;
}

/** The selected trial judged over all that the mask covers: asked for by hand, since every tile of it is computed. */
export function WholeMaskAudit({ frame, column, region }: WholeMaskAuditProps) {
  const [asked, setAsked] = useState<Column | null>(null);
  const isAsked = asked === column;
  const { done, total, figures, failure } = useRegionAudit(frame, isAsked ? column : null, region);
  if (!isAsked) {
    return (
      <button type="button" className="link-button" onClick={() => setAsked(column)}>
        Audit all of the mask
      </button>
    );
  }
  if (!figures) {
    return (
      <span className="mask-audit" role="status">
        {failure ? <Unfinished failure={failure} text="" /> : `${done} of ${total} tiles`}{' '}
        <button type="button" className="link-button" onClick={() => setAsked(null)}>
          stop
        </button>
      </span>
    );
  }
  return (
    <span className="mask-audit" role="status">
      <AuditMarks figures={figures} /> {worstSentence(figures, 'Over the mask')}
    </span>
  );
}
