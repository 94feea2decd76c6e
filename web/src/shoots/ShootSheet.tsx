import { useEffect, useRef, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import type { SheetFrame, ShootDetail } from '@vitrocept/server';
import { useShoot, useChangeShoot } from '../api/queries';
import { RenameDialog } from '../parts/RenameDialog';
import { inHeapOrder } from '../sort/heapRows';
import { LargeLook } from '../sort/LargeLook';
import { Piles } from '../sort/Piles';
import { SortChart } from '../sort/SortChart';
import { SortTable } from '../sort/SortTable';
import { useSheetKeys } from '../sort/useSheetKeys';
import { useSorting } from '../sort/useSorting';
import { Arrivals, DropArea } from './DropArea';
import { filesForNextSheet } from './filesForNextSheet';
import { PileBar } from './PileBar';
import { SelectionBar } from './SelectionBar';
import { pressed } from './selection';
import { useBringIn } from './useBringIn';
import '../sort/sort.css';

/** The frames of one shoot, sorted: a chart, and under it the piles, a table, or one frame after the other. */
export function ShootSheet() {
  const { shootId = '' } = useParams();
  const { data: shoot, error, isPending } = useShoot(shootId);
  if (error) return <main className="page text-damaged">{error.message}</main>;
  if (isPending) return <main className="page text-soft">Loading …</main>;
  return <Sheet key={shootId} shoot={shoot} />;
}

const VIEWS = { piles: 'Piles', table: 'Table', large: 'One after the other' } as const;
type View = keyof typeof VIEWS;

function Sheet({ shoot }: { shoot: ShootDetail }) {
  const { id: shootId, frames } = shoot;
  const { arrivals, bringIn, isBusy, clear } = useBringIn();
  const sorting = useSorting(shootId);
  const changeShoot = useChangeShoot();
  const [params, setParams] = useSearchParams();
  const [chosen, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [renames, setRenames] = useState(false);
  const [isWhole, setWhole] = useState(false);
  /** The frame that was pressed last: with Shift all from there on are taken. */
  const last = useRef<string | null>(null);
  const present = new Set(frames.map(({ id }) => id));
  const selected = new Set([...chosen].filter((id) => present.has(id)));
  const order = inHeapOrder(frames);

  const asked = params.get('view') ?? 'piles';
  const view: View = frames.length > 0 && asked in VIEWS ? (asked as View) : 'piles';
  const at = Math.max(
    0,
    order.findIndex(({ id }) => id === params.get('frame')),
  );
  const show = (to: View, frame?: SheetFrame) =>
    setParams(to === 'piles' ? {} : { view: to, ...(frame ? { frame: frame.id } : {}) }, { replace: true });
  const go = (to: number) => show('large', order[Math.min(order.length - 1, Math.max(0, to))]);
  const press = (id: string, isRange: boolean, among: readonly SheetFrame[] = order) =>
    setSelected(pressed(among, selected, id, isRange, last));
  const looked = view === 'large' ? order[at] : undefined;

  useSheetKeys({
    meant() {
      if (looked) return [looked];
      if (selected.size > 0) return frames.filter(({ id }) => selected.has(id));
      const focused = document.activeElement?.closest<HTMLElement>('[data-frame]')?.dataset.frame;
      return frames.filter(({ id }) => id === focused);
    },
    sorting: {
      ...sorting,
      putInto(some, pile) {
        // The order hangs on the piles: what comes next is what came next before.
        const next = order[at + 1];
        sorting.putInto(some, pile);
        if (looked && next) show('large', next);
      },
    },
    go: (by) => go(at + by),
    toggle: () => looked && press(looked.id, false),
    leave: () => show('piles'),
    isLarge: view === 'large',
  });
  useEffect(() => {
    const files = filesForNextSheet.take(shootId);
    if (files.length > 0) void bringIn(shootId, files);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- files wait once per shoot
  }, [shootId]);

  const waiting = frames.filter(({ state }) => state === 'waiting').length;
  return (
    <main className="page">
      {shoot.removedAt && (
        <p className="card-plain trash-note">
          This shoot lies in the trash.{' '}
          <button
            type="button"
            className="link-button"
            onClick={() => changeShoot.mutate({ id: shootId, isRemoved: false })}
          >
            put it back
          </button>
        </p>
      )}
      <div className="sheet-head">
        <div>
          <h1>
            {shoot.name}{' '}
            <button type="button" className="link-button head-act" onClick={() => setRenames(true)}>
              rename
            </button>
          </h1>
          <PileBar piles={shoot.piles} />
          {waiting > 0 && (
            <div className="text-soft" role="status">
              {waiting} of {frames.length} still to be measured; you can work on the others meanwhile
            </div>
          )}
          {view !== 'large' && (
            <DropArea text="Drop more frames here" onFiles={(files) => void bringIn(shootId, files)} />
          )}
        </div>
        {frames.length > 0 && view !== 'large' && (
          <SortChart frames={frames} selected={selected} onSelect={setSelected} />
        )}
      </div>
      <Arrivals arrivals={arrivals} isBusy={isBusy} onClear={clear} />
      {frames.length === 0 && arrivals.length === 0 && (
        <p className="text-soft">
          This shoot is empty. Drop JPEG, TIFF, PNG, AVIF, DNG or raw files above; each is measured as it comes in.
        </p>
      )}
      {frames.length > 0 && (
        <div className="sheet-tools">
          <div className="view-tabs" role="tablist" aria-label="How frames are shown">
            {(Object.keys(VIEWS) as View[]).map((one) => (
              <button
                key={one}
                type="button"
                role="tab"
                aria-selected={view === one}
                onClick={() => show(one, one === 'large' ? order[at] : undefined)}
              >
                {VIEWS[one]}
              </button>
            ))}
          </div>
          {view === 'piles' && (
            <label>
              <input type="checkbox" checked={isWhole} onChange={() => setWhole(!isWhole)} /> whole frames, not 100 % of
              the subject
            </label>
          )}
          <span className="sheet-said" role="status">
            {sorting.said}{' '}
            {sorting.canUndo && (
              <button type="button" className="link-button" onClick={() => sorting.undo()}>
                undo
              </button>
            )}
          </span>
        </div>
      )}
      <SelectionBar shootId={shootId} frames={frames} selected={selected} sorting={sorting} onSelect={setSelected} />
      {view === 'piles' && frames.length > 0 && (
        <Piles frames={frames} isWhole={isWhole} selected={selected} onPress={press} />
      )}
      {view === 'table' && <SortTable frames={frames} selected={selected} onPress={press} onSelect={setSelected} />}
      {looked && (
        <LargeLook
          frames={order}
          at={at}
          isSelected={selected.has(looked.id)}
          onGo={go}
          onSelect={() => press(looked.id, false)}
          onPutInto={(frame, pile) => sorting.putInto([frame], pile)}
        />
      )}
      {renames && (
        <RenameDialog
          what="the shoot"
          name={shoot.name}
          onRename={(name) => changeShoot.mutate({ id: shootId, name })}
          onHide={() => setRenames(false)}
        />
      )}
    </main>
  );
}
