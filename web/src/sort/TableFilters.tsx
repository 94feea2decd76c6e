import type { ColumnFiltersState } from '@tanstack/react-table';
import { useMemo, type ReactNode } from 'react';
import { METHOD_DESCRIPTIONS } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { HEAP_NAMES, HEAPS, heapOf } from './sheetFrame';
import { numberOrOpen, type Span } from './tableFilters';

interface TableFiltersProps {
  readonly frames: readonly SheetFrame[];
  readonly filters: ColumnFiltersState;
  onFilters(filters: ColumnFiltersState): void;
  readonly children: ReactNode;
}

const OPEN: Span = { from: null, to: null };

export function TableFilters({ frames, filters, onFilters, children }: TableFiltersProps) {
  const valueOf = (id: string) => filters.find((filter) => filter.id === id)?.value;
  const set = (id: string, value: unknown) => {
    const others = filters.filter((filter) => filter.id !== id);
    onFilters(value === undefined || value === '' ? others : [...others, { id, value }]);
  };
  const heaps = useMemo(() => HEAPS.filter((heap) => frames.some((frame) => heapOf(frame) === heap)), [frames]);
  const causes = useMemo(
    () => [...new Set(frames.flatMap(({ sortedAs }) => (sortedAs?.method ? [sortedAs.method] : [])))],
    [frames],
  );
  const spanFields = (id: string, what: string) => {
    const span = (valueOf(id) as Span | undefined) ?? OPEN;
    const field = (end: keyof Span) => (
      <input
        size={4}
        inputMode="decimal"
        aria-label={`${what} ${end}`}
        defaultValue={span[end] ?? ''}
        onChange={(event) => set(id, { ...span, [end]: numberOrOpen(event.target.value) })}
      />
    );
    return (
      <span>
        {what} {field('from')} to {field('to')}
      </span>
    );
  };
  return (
    <div className="table-filters" role="group" aria-label="Filters">
      <input
        type="search"
        placeholder="name"
        aria-label="Name contains"
        value={(valueOf('name') as string | undefined) ?? ''}
        onChange={(event) => set('name', event.target.value)}
      />
      <select
        aria-label="Pile"
        value={(valueOf('pile') as string | undefined) ?? ''}
        onChange={(event) => set('pile', event.target.value)}
      >
        <option value="">all piles</option>
        {heaps.map((heap) => (
          <option key={heap} value={heap}>
            {HEAP_NAMES[heap]}
          </option>
        ))}
      </select>
      <select
        aria-label="Cause"
        value={(valueOf('cause') as string | undefined) ?? ''}
        onChange={(event) => set('cause', event.target.value)}
      >
        <option value="">all causes</option>
        {causes.map((method) => (
          <option key={method} value={METHOD_DESCRIPTIONS[method].name}>
            {METHOD_DESCRIPTIONS[method].name}
          </option>
        ))}
      </select>
      {spanFields('blur', 'blur')}
      {spanFields('noise', 'noise')}
      {children}
    </div>
  );
}
