import { placesToCheck, CHECK_STRIDE, type CleaningCheck, type CleaningFigures, type Region } from '@vitrocept/core';
import { VerdictMark } from '../parts/AuditMarks';
import { cleaningSentence } from '../words';

/** Under a cell: whether what was removed is noise, how much texture and, where there is room, grain are left. */
export function CheckFoot({ figures, isNarrow }: { figures: CleaningFigures | null; isNarrow: boolean }) {
  if (!figures) return <span className="text-soft">being checked</span>;
  const { edges, texture, grain } = figures;
  return (
    <span
      className="audit-marks"
      title={
        cleaningSentence(figures) + (grain === null ? '' : ` Grain left in plain places: ${Math.round(100 * grain)} %.`)
      }
    >
      <span>
        <VerdictMark verdict={edges.verdict} /> edges
      </span>
      <span>
        <VerdictMark verdict={texture.verdict} /> texture{' '}
        {texture.verdict === 'not measurable' ? '–' : `${Math.round(100 * (1 - texture.value))} %`}
      </span>
      {grain !== null && !isNarrow && <span className="text-soft">grain {Math.round(100 * grain)} %</span>}
    </span>
  );
}

interface CheckPlacesProps {
  readonly checks: readonly CleaningCheck[];
  readonly view: Region;
  readonly scale: number;
  place(x: number, y: number): { x: number; y: number };
}

/** The squares in which more than noise was removed; those that are damaged drawn heavier. */
export function CheckPlaces({ checks, view, scale, place }: CheckPlacesProps) {
  const half = CHECK_STRIDE / 2;
  return placesToCheck(checks, view).map(({ x, y, level }, i) => {
    const corner = place(x - half, y - half);
    return (
      <rect
        key={i}
        x={corner.x}
        y={corner.y}
        width={CHECK_STRIDE * scale}
        height={CHECK_STRIDE * scale}
        className={level >= 2 ? 'check-place is-damaged' : 'check-place'}
      />
    );
  });
}
