import { WallCell } from '../parts/WallCell';
import { useWallStore } from '../stores/wallStore';
import { trialLetter } from '../words';
import type { CellSize } from './useCellSize';
import type { WallProps } from './wallProps';

/** The whole subject in every column, seen from afar. */
export function WallAfar(props: WallProps & { readonly cell: CellSize }) {
  const { frame, prescription, columns, versions, selected, beneath, isHeld, subject, cell } = props;
  const isHoldingOne = useWallStore((state) => state.isHoldingOne);
  const { trials } = prescription;
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
            prescription={column}
            centre={{ x: subject.x + subject.width / 2, y: subject.y + subject.height / 2 }}
            magnification={100 * Math.min(cell.width / subject.width, cell.height / subject.height, 1)}
            {...cell}
            showOriginal={isHeld}
            showOriginalUnderPointer={isHoldingOne}
            rank={5000 + i}
            staysDraft
            figures={null}
            isUnnamed
            label={i === 0 ? 'Original from afar' : `Trial ${trialLetter(i - 1)} from afar`}
            onPan={() => undefined}
          />
        </div>
      ))}
    </div>
  );
}
