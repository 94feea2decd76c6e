import type { AreaOrigin, CombineMode, MaskOperation } from '@vitrocept/core';

interface OperationListProps {
  readonly operations: readonly MaskOperation[];
  /** The act whose settings stand in the tray. */
  readonly selected: number | null;
  onSelect(at: number | null): void;
  onChange(operations: readonly MaskOperation[]): void;
}

const percent = (value: number) => Math.round(100 * value);

/** What can be adjusted later; a painted stroke is what it is. */
function isAdjustable(operation: MaskOperation): boolean {
  if (operation.kind === 'area') return ['tone', 'focus', 'colour'].includes(operation.from.kind);
  return ['radial', 'linear', 'grow', 'feather'].includes(operation.kind);
}

function nameOf(operation: MaskOperation): string {
  switch (operation.kind) {
    case 'invert':
      return 'inverted';
    case 'fill':
      return 'filled';
    case 'grow':
      return operation.px < 0 ? `shrunk by ${-operation.px} px` : `grown by ${operation.px} px`;
    case 'feather':
      return `softened over ${operation.px} px`;
    case 'stroke':
      return `${operation.mode === 'add' ? 'painted' : 'erased'}, ${Math.round(operation.sizePx)} px`;
    case 'area':
      return joinedName(operation, originName(operation.from));
    case 'radial':
      return joinedName(operation, operation.name ?? 'radial');
    case 'linear':
      return joinedName(operation, 'linear');
  }
}

function joinedName({ mode }: { mode: CombineMode }, name: string): string {
  return mode === 'add' ? name : mode === 'erase' ? `${name}, taken away` : `only ${name}`;
}

function originName(from: AreaOrigin): string {
  switch (from.kind) {
    case 'subject': {
      const { length } = from.dabs;
      return `subject${from.only ? ' in a loop' : ''}${length === 0 ? '' : length === 1 ? ', 1 dab' : `, ${length} dabs`}`;
    }
    case 'tone':
      return `tones ${percent(from.band[0])} to ${percent(from.band[3])} %`;
    case 'focus':
      return `focus ${percent(from.band[0])} to ${percent(from.band[3])} %`;
    case 'colour':
      return `colour, ΔE ${Math.round(from.tolerance)}`;
    case 'edges':
      return 'stroke along edges';
    case 'file':
      return from.name;
    case 'holes':
    case 'specks':
      return from.kind;
  }
}

/** What the mask is made of, the last act first; each can be moved, left out or removed. */
export function OperationList({ operations, selected, onSelect, onChange: change }: OperationListProps) {
  // Places in the list mean something else afterwards.
  const onChange = (next: readonly MaskOperation[]) => {
    onSelect(null);
    change(next);
  };
  const swap = (i: number, j: number) => {
    const next = [...operations];
    [next[i], next[j]] = [next[j], next[i]];
    onChange(next);
  };
  return (
    <section className="card-plain operation-list" aria-label="What the mask is made of">
      <div className="card-head">
        <strong>Made of</strong>
      </div>
      {operations.length === 0 && <p className="text-soft">nothing yet</p>}
      <ol>
        {operations
          .map((operation, i) => {
            const name = `${i + 1}, ${nameOf(operation)}`;
            return (
              <li key={i} className={operation.isOff ? 'is-off' : ''}>
                <label>
                  <input
                    type="checkbox"
                    checked={!operation.isOff}
                    aria-label={`Use ${name}`}
                    onChange={() =>
                      onChange(operations.map((other, j) => (j === i ? { ...other, isOff: !other.isOff } : other)))
                    }
                  />{' '}
                  {!isAdjustable(operation) && nameOf(operation)}
                </label>
                {isAdjustable(operation) && (
                  <button
                    type="button"
                    className="operation-name"
                    aria-pressed={selected === i}
                    title="Adjust it"
                    onClick={() => onSelect(selected === i ? null : i)}
                  >
                    {nameOf(operation)}
                  </button>
                )}
                <span className="operation-acts">
                  {i + 1 < operations.length && (
                    <button
                      type="button"
                      className="link-button"
                      aria-label={`Later: ${name}`}
                      onClick={() => swap(i, i + 1)}
                    >
                      later
                    </button>
                  )}
                  {i > 0 && (
                    <button
                      type="button"
                      className="link-button"
                      aria-label={`Earlier: ${name}`}
                      onClick={() => swap(i, i - 1)}
                    >
                      earlier
                    </button>
                  )}
                  <button
                    type="button"
                    className="link-button"
                    aria-label={`Remove ${name}`}
                    onClick={() => onChange(operations.filter((_, j) => j !== i))}
                  >
                    remove
                  </button>
                </span>
              </li>
            );
          })
          .reverse()}
      </ol>
    </section>
  );
}
