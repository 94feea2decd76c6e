import type { MaskOperation } from '@vitrocept/core';

interface OperationListProps {
  readonly operations: readonly MaskOperation[];
  onChange(operations: readonly MaskOperation[]): void;
}

function nameOf(operation: MaskOperation): string {
  switch (operation.kind) {
    case 'invert':
      return 'inverted';
    case 'stroke':
      return `${operation.mode === 'add' ? 'painted' : 'erased'}, ${Math.round(operation.sizePx)} px`;
    case 'area': {
      const { length } = operation.from.dabs;
      return `subject${length === 0 ? '' : length === 1 ? ', 1 dab' : `, ${length} dabs`}`;
    }
  }
}

/** What the mask is made of, the last act first; each can be moved, left out or removed. */
export function OperationList({ operations, onChange }: OperationListProps) {
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
                  {nameOf(operation)}
                </label>
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
