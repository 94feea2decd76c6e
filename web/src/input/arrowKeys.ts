import type { KeyboardEvent } from 'react';

const ALONG: Readonly<Record<string, -1 | 1 | undefined>> = {
  ArrowLeft: -1,
  ArrowUp: -1,
  ArrowRight: 1,
  ArrowDown: 1,
};

/** The place to go to in a row of `count` from `at`: arrows go round, Home and End to the ends; null for other keys. */
export function nextInGroup(key: string, at: number, count: number): number | null {
  if (count === 0) return null;
  if (key === 'Home') return 0;
  if (key === 'End') return count - 1;
  const by = ALONG[key];
  return by ? (at + by + count) % count : null;
}

/** The place to go to in a grid whose rows may differ in length; at its edge nothing moves. Null for other keys. */
export function nextInGrid(
  key: string,
  row: number,
  column: number,
  lengths: readonly number[],
): { readonly row: number; readonly column: number } | null {
  const by = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[key];
  if (!by) return null;
  const to = Math.min(lengths.length - 1, Math.max(0, row + by[0]));
  return { row: to, column: Math.min(lengths[to] - 1, Math.max(0, column + by[1])) };
}

/**
 * Moves among the tabs or radios of a group and presses the one it comes to.
 * Source: WAI-ARIA Authoring Practices 1.2, patterns Tabs and Radio Group.
 */
export function moveInGroup(event: KeyboardEvent<HTMLElement>): void {
  const members = [...event.currentTarget.querySelectorAll<HTMLElement>('[role="tab"], [role="radio"]')];
  const at = members.indexOf(event.target as HTMLElement);
  const next = at < 0 ? null : nextInGroup(event.key, at, members.length);
  if (next === null) return;
  event.preventDefault();
  event.stopPropagation();
  members[next].focus();
  members[next].click();
}

/** Moves the focus among the pictures of a grid. Source: WAI-ARIA Authoring Practices 1.2, pattern Grid. */
export function moveInGrid(event: KeyboardEvent<HTMLElement>): void {
  if (event.altKey || !(event.target instanceof HTMLCanvasElement)) return;
  const rows = [...event.currentTarget.querySelectorAll('[role="row"]')]
    .map((row) => [...row.querySelectorAll<HTMLCanvasElement>('[role="gridcell"] canvas')])
    .filter((cells) => cells.length > 0);
  const row = rows.findIndex((cells) => cells.includes(event.target as HTMLCanvasElement));
  if (row < 0) return;
  const column = rows[row].indexOf(event.target);
  const next = nextInGrid(
    event.key,
    row,
    column,
    rows.map(({ length }) => length),
  );
  if (!next) return;
  event.preventDefault();
  event.stopPropagation();
  rows[next.row][next.column].focus();
}
