import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnFiltersState,
  type SortingState,
} from '@tanstack/react-table';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { METHOD_DESCRIPTIONS } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { exposureText } from '../parts/exposureText';
import { TableFilters } from './TableFilters';
import { PileMark } from './pileMarks';
import { HEAP_NAMES, heapOf } from './sheetFrame';
import { isWithin, type Span } from './tableFilters';
import { usePlace } from './usePlace';

const ROW_HEIGHT = 30;
const column = createColumnHelper<SheetFrame>();
const figure = (value: number | null | undefined, digits: number) =>
  value === null || value === undefined ? '' : value.toFixed(digits);
const spanFilter = (row: { getValue(id: string): unknown }, id: string, span: Span) =>
  isWithin(row.getValue(id) as number | undefined, span);

const COLUMNS = [
  column.accessor('name', {
    header: 'Frame',
    filterFn: 'includesString',
    cell: ({ row, getValue }) => <Link to={`/frames/${row.original.id}`}>{getValue()}</Link>,
  }),
  column.accessor((frame) => heapOf(frame), {
    id: 'pile',
    header: 'Pile',
    filterFn: 'equalsString',
    cell: ({ row, getValue }) => {
      const heap = getValue();
      return (
        <>
          {heap !== 'unread' && <PileMark pile={heap} />} {HEAP_NAMES[heap]}
          {row.original.pileByHand && <span className="text-soft"> by hand</span>}
        </>
      );
    },
  }),
  column.accessor(({ sortedAs }) => (sortedAs?.method ? METHOD_DESCRIPTIONS[sortedAs.method].name : ''), {
    id: 'cause',
    header: 'Cause',
    filterFn: 'equalsString',
  }),
  column.accessor((frame) => frame.sortedAs?.blurSizePx, {
    id: 'blur',
    header: 'Blur, px',
    filterFn: spanFilter,
    cell: ({ getValue }) => figure(getValue(), 1),
    sortUndefined: 'last',
  }),
  column.accessor((frame) => frame.sortedAs?.noisePercent, {
    id: 'noise',
    header: 'Noise, %',
    filterFn: spanFilter,
    cell: ({ getValue }) => figure(getValue(), 1),
    sortUndefined: 'last',
  }),
  column.accessor((frame) => frame.sortedAs?.finestRecoverablePx, {
    id: 'finest',
    header: 'Finest to be had, px',
    cell: ({ getValue }) => figure(getValue(), 1),
    sortUndefined: 'last',
  }),
  column.accessor((frame) => frame.exposure.iso ?? undefined, { id: 'iso', header: 'ISO', sortUndefined: 'last' }),
  column.accessor((frame) => exposureText(frame.exposure), {
    id: 'exposure',
    header: 'Exposure',
    enableSorting: false,
  }),
  column.accessor((frame) => (frame.hasChoice ? 'recovery chosen' : frame.alsoIn.length > 0 ? 'held twice' : ''), {
    id: 'state',
    header: 'State',
  }),
];
const RIGHT = new Set(['blur', 'noise', 'finest', 'iso']);
const SORT_WORDS = { asc: 'ascending', desc: 'descending' } as const;

interface SortTableProps {
  readonly frames: readonly SheetFrame[];
  readonly selected: ReadonlySet<string>;
  onPress(id: string, isRange: boolean, order: readonly SheetFrame[]): void;
  onSelect(selected: ReadonlySet<string>): void;
}

/**
 * All frames as a table: sorted by a press on a head, narrowed by filters; of thousands only those on screen are drawn.
 */
export function SortTable({ frames, selected, onPress, onSelect }: SortTableProps) {
  const [sorting, setSorting] = useState<SortingState>([{ id: 'name', desc: false }]);
  const [filters, setFilters] = useState<ColumnFiltersState>([]);
  const body = useRef<HTMLTableSectionElement>(null);
  const place = useRef<HTMLDivElement>(null);
  const { top } = usePlace(place);
  const table = useReactTable({
    data: frames as SheetFrame[],
    columns: COLUMNS,
    state: { sorting, columnFilters: filters },
    onSortingChange: setSorting,
    onColumnFiltersChange: setFilters,
    getRowId: ({ id }) => id,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
  });
  const { rows } = table.getRowModel();
  const order = rows.map(({ original }) => original);
  const virtual = useWindowVirtualizer({
    count: rows.length,
    estimateSize: () => ROW_HEIGHT,
    scrollMargin: top,
    overscan: 8,
  });
  const shown = virtual.getVirtualItems();
  const before = shown.length > 0 ? shown[0].start - top : 0;
  const after = shown.length > 0 ? virtual.getTotalSize() - (shown.at(-1)!.end - top) : 0;
  useEffect(() => virtual.measure(), [virtual, rows.length]);
  return (
    <div className="sort-table">
      <TableFilters frames={frames} filters={filters} onFilters={setFilters}>
        <button type="button" className="link-button" onClick={() => onSelect(new Set(order.map(({ id }) => id)))}>
          choose these {rows.length}
        </button>
      </TableFilters>
      <div ref={place}>
        <table>
          <thead>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id}>
                <th aria-label="chosen" />
                {group.headers.map(({ id, column: own, getContext }) => {
                  const sorted = own.getIsSorted();
                  return (
                    <th
                      key={id}
                      className={RIGHT.has(id) ? 'is-figure' : ''}
                      aria-sort={sorted ? SORT_WORDS[sorted] : 'none'}
                    >
                      {own.getCanSort() ? (
                        <button type="button" onClick={own.getToggleSortingHandler()}>
                          {flexRender(own.columnDef.header, getContext())}
                          {sorted && (sorted === 'asc' ? ' ↑' : ' ↓')}
                        </button>
                      ) : (
                        flexRender(own.columnDef.header, getContext())
                      )}
                    </th>
                  );
                })}
              </tr>
            ))}
          </thead>
          <tbody ref={body}>
            {before > 0 && (
              <tr aria-hidden style={{ height: before }}>
                <td colSpan={COLUMNS.length + 1} />
              </tr>
            )}
            {shown.map(({ index }) => {
              const row = rows[index];
              return (
                <tr key={row.id} className={selected.has(row.id) ? 'is-selected' : ''} style={{ height: ROW_HEIGHT }}>
                  <td>
                    <input
                      type="checkbox"
                      aria-label={`Choose ${row.original.name}`}
                      checked={selected.has(row.id)}
                      onChange={(event) => onPress(row.id, (event.nativeEvent as MouseEvent).shiftKey, order)}
                    />
                  </td>
                  {row.getVisibleCells().map((cell) => (
                    <td key={cell.id} className={RIGHT.has(cell.column.id) ? 'is-figure' : ''}>
                      {flexRender(cell.column.columnDef.cell, cell.getContext())}
                    </td>
                  ))}
                </tr>
              );
            })}
            {after > 0 && (
              <tr aria-hidden style={{ height: after }}>
                <td colSpan={COLUMNS.length + 1} />
              </tr>
            )}
          </tbody>
        </table>
        {rows.length === 0 && <p className="text-soft">No frame passes these filters.</p>}
      </div>
    </div>
  );
}
