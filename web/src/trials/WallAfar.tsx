import type { Trial } from '@vitrocept/core';
import { WallCell } from '../parts/WallCell';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import { isSeenFromAfar, scaleFromAfar } from './seenFromAfar';
import type { CellSize } from './useCellSize';
import type { WallProps } from './wallProps';

const SAME = 'too small here to tell from the original';

/** The whole subject in every column, seen from afar; as it was taken where a recovery could not be seen. */
export function WallAfar(props: WallProps & { readonly cell: CellSize }) {
  const { frame, prescription, columns, versions, selected, beneath, isHeld, subject, cell } = props;
  const isHoldingOne = useWallStore((state) => state.isHoldingOne);
  const { trials } = prescription;
  const scale = scaleFromAfar(cell, subject);
  const isSame = (trial: Trial | undefined) => trial !== undefined && !isSeenFromAfar(trial.blurSizePx.value, scale);
  return (
    <div className="wall-row is-afar" role="row">
      <div className="wall-side" role="rowheader">
        <span className="row-name">whole subject</span>
      </div>
      {[columns.original, ...columns.trials, ...columns.outside].map((column, i) => (
        <div
          key={i === 0 ? 'original' : (trials[i - 1] ?? versions[i - 1 - trials.length]).id}
          role="gridcell"
          className={i === 0 ? 'is-pinned' : selected && trials[i - 1] === selected ? 'is-selected' : ''}
        >
          <WallCell
            frame={frame}
            original={beneath}
            prescription={isSame(trials[i - 1]) ? columns.original : column}
            overlay={isSame(trials[i - 1]) ? () => <SameNote height={cell.height} /> : undefined}
            centre={{ x: subject.x + subject.width / 2, y: subject.y + subject.height / 2 }}
            magnification={100 * scale}
            {...cell}
            showOriginal={isHeld}
            showOriginalUnderPointer={isHoldingOne}
            rank={5000 + i}
            staysDraft
            figures={null}
            isUnnamed
            label={
              i === 0
                ? 'Original from afar'
                : `Trial ${trialLetter(i - 1)} from afar${isSame(trials[i - 1]) ? `, ${SAME}` : ''}`
            }
            onPan={() => undefined}
          />
        </div>
      ))}
    </div>
  );
}

const SameNote = ({ height }: { readonly height: number }) => (
  <text className="afar-note" x={6} y={height - 7}>
    {SAME}
  </text>
);
