import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';
import type { SheetFrame } from '@vitrocept/server';
import { CARD, FrameCard } from './FrameCard';
import { heapRows } from './heapRows';
import { PileMark } from './pileMarks';
import { HEAP_NAMES, KEY_OF_PILE } from './sheetFrame';
import { usePlace } from './usePlace';

const HEAD_HEIGHT = 40;
const WAYS: Partial<Record<string, string>> = {
  'good-as-is': 'no blur of a known kind, little noise',
  grainy: 'sharp enough, and worth cleaning',
  soft: 'blurred, and worth a recovery',
  'beyond-recovery': 'so blurred or noisy that nothing fine would come back',
  unread: 'the first look takes about two seconds a frame',
};

interface PilesProps {
  readonly frames: readonly SheetFrame[];
  readonly isWhole: boolean;
  readonly selected: ReadonlySet<string>;
  onPress(id: string, isRange: boolean): void;
}

/** The frames by pile; of thousands only those on screen are in the page. */
export function Piles({ frames, isWhole, selected, onPress }: PilesProps) {
  const list = useRef<HTMLDivElement>(null);
  const { width, top } = usePlace(list);
  const columns = Math.max(1, Math.floor((width + CARD.gap) / (CARD.width + CARD.gap)));
  const cardWidth = Math.max(CARD.width, Math.floor((width - (columns - 1) * CARD.gap) / columns));
  const rows = useMemo(() => heapRows(frames, columns), [frames, columns]);
  const virtual = useWindowVirtualizer({
    count: rows.length,
    estimateSize: (at) => ('count' in rows[at] ? HEAD_HEIGHT : CARD.height + CARD.gap),
    getItemKey: (at) => {
      const row = rows[at];
      return 'count' in row ? row.heap : row.frames[0].id;
    },
    scrollMargin: top,
    overscan: 2,
  });
  return (
    <div ref={list} className="piles" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map(({ index, start, key }) => {
        const row = rows[index];
        return (
          <div key={key} className="pile-row" style={{ transform: `translateY(${start - top}px)` }}>
            {'count' in row ? (
              <h2 className="pile-head">
                {row.heap !== 'unread' && <PileMark pile={row.heap} />} {HEAP_NAMES[row.heap]}{' '}
                <span className="text-soft">
                  {row.count} · {WAYS[row.heap]}
                </span>
                {row.heap !== 'unread' && <kbd>{KEY_OF_PILE[row.heap]}</kbd>}
              </h2>
            ) : (
              row.frames.map((frame) => (
                <FrameCard
                  key={frame.id}
                  frame={frame}
                  width={cardWidth}
                  isWhole={isWhole}
                  isSelected={selected.has(frame.id)}
                  onSelect={(isRange) => onPress(frame.id, isRange)}
                />
              ))
            )}
          </div>
        );
      })}
    </div>
  );
}
