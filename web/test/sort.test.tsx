// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, renderHook, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { PILES, type Pile } from '@vitrocept/core';
import type { SheetFrame, ShootDetail } from '@vitrocept/server';
import { chartMarks, chartScales, idsWithin, nearestMark, outlineOf } from '../src/sort/chartMarks';
import { cropAddress } from '../src/sort/cropOf';
import { heapRows, inHeapOrder } from '../src/sort/heapRows';
import { Piles } from '../src/sort/Piles';
import { faultSentence, heapOf, pileOfKey } from '../src/sort/sheetFrame';
import { SortTable } from '../src/sort/SortTable';
import { isWithin, numberOrOpen } from '../src/sort/tableFilters';
import { changedShoot, useSorting } from '../src/sort/useSorting';

afterEach(cleanup);
beforeEach(() => {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      disconnect() {}
      unobserve() {}
    },
  );
});

function frame(id: string, pile: Pile | null, part: Partial<SheetFrame> = {}): SheetFrame {
  return {
    id,
    name: `${id}.jpg`,
    format: 'jpeg',
    width: 6000,
    height: 4000,
    pileByHand: null,
    exposure: {
      iso: 400,
      shutterS: null,
      fNumber: null,
      focalLengthMm: null,
      lens: null,
      camera: null,
      takenAt: null,
    },
    state: pile ? 'sorted' : 'waiting',
    error: null,
    sortedAs: pile && {
      pile,
      method: pile === 'soft' ? 'missed-focus' : null,
      blurSizePx: pile === 'soft' ? 6 : 0,
      directionDeg: 0,
      noisePercent: pile === 'grainy' ? 2 : 0.4,
      finestNowPx: 5,
      finestRecoverablePx: pile === 'beyond-recovery' ? 21 : 3,
      confidence: 0.8,
      over: 'subject',
      place: { x: 100, y: 3950 },
    },
    hasChoice: false,
    alsoIn: [],
    ...part,
  };
}
const many = (count: number) =>
  Array.from({ length: count }, (_, i) => frame(`f${String(i).padStart(4, '0')}`, PILES[i % 4]));
const around = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>
    <MemoryRouter>{children}</MemoryRouter>
  </QueryClientProvider>
);

describe('frames by pile', () => {
  it('a hand-set pile counts over the measured one; what was not measured lies apart', () => {
    expect(heapOf(frame('a', 'soft', { pileByHand: 'grainy' }))).toBe('grainy');
    expect(heapOf(frame('a', null))).toBe('unread');
    expect(pileOfKey('3')).toBe('soft');
    expect(pileOfKey('5')).toBeNull();
  });

  it('every frame stands once, under the head of its pile, so many in a row', () => {
    const frames = many(23);
    const rows = heapRows(frames, 5);
    expect(rows.filter((row) => 'count' in row)).toHaveLength(4);
    const cards = rows.flatMap((row) => ('frames' in row ? [...row.frames] : []));
    expect(cards).toEqual(inHeapOrder(frames));
    expect(new Set(cards.map(({ id }) => id)).size).toBe(23);
    for (const row of rows) {
      if (!('frames' in row)) continue;
      expect(row.frames.length).toBeLessThanOrEqual(5);
      for (const one of row.frames) expect(heapOf(one)).toBe(row.heap);
    }
  });

  it('says why nothing can be done', () => {
    expect(faultSentence(frame('a', 'beyond-recovery'))).toBe('Nothing finer than 21 px would come back');
    expect(faultSentence(frame('a', 'soft'))).toMatch(/^Missed focus, 6\.0 px/);
  });

  it('shows the subject px for px, never beyond the frame', () => {
    expect(cropAddress(frame('a', 'soft'), 232, 150)).toBe('/api/frames/a/crop.jpg?x=0&y=3850&width=232&height=150');
    expect(cropAddress(frame('a', 'soft', { width: 200, height: 90 }), 232, 150)).toMatch(
      /x=0&y=0&width=200&height=90/,
    );
  });
});

describe('the chart', () => {
  const frames = [frame('a', 'soft'), frame('b', 'grainy'), frame('c', 'good-as-is'), frame('d', null)];
  const marks = chartMarks(frames, chartScales(frames));

  it('has a mark for every frame that was measured, softer to the right, noisier up', () => {
    const at = (id: string) => marks.find((mark) => mark.frame.id === id)!;
    expect(marks).toHaveLength(3);
    expect(at('a').x).toBeGreaterThan(at('b').x);
    expect(at('b').y).toBeLessThan(at('c').y);
  });

  it('a rectangle chooses what lies within, a press the nearest within reach', () => {
    const [a] = marks;
    const box = { left: a.x - 5, right: a.x + 5, top: a.y - 5, bottom: a.y + 5 };
    expect(idsWithin(marks, box)).toEqual(['a']);
    expect(nearestMark(marks, a.x + 3, a.y, 9)?.frame.id).toBe('a');
    expect(nearestMark(marks, a.x + 30, a.y - 40, 9)).toBeNull();
  });

  it('draws each pile as one outline that a browser can read', () => {
    for (const pile of PILES) {
      const path = outlineOf(chartMarks(many(40), chartScales(many(40))), pile);
      expect(path.match(/M/g)!.length).toBeGreaterThanOrEqual(10);
      expect(path).not.toMatch(/NaN|undefined/);
      // The flags of an arc are 0 or 1, nothing else.
      for (const [, arc] of path.matchAll(/A([^MLAZ]*)/g))
        expect(arc.split(',').slice(3, 5).join('')).toMatch(/^[01]{2}$/);
    }
  });
});

describe('2,000 frames', () => {
  it('put a few cards or rows into the page, not thousands', () => {
    const frames = many(2000);
    const cards = render(<Piles frames={frames} isWhole={false} selected={new Set()} onPress={() => undefined} />, {
      wrapper: around,
    });
    expect(cards.container.querySelectorAll('[data-frame]').length).toBeLessThan(80);
    cleanup();
    render(<SortTable frames={frames} selected={new Set()} onPress={() => undefined} onSelect={() => undefined} />, {
      wrapper: around,
    });
    expect(screen.queryAllByRole('row').length).toBeLessThan(80);
    expect(screen.getByText('choose these 2000')).toBeTruthy();
  });

  it('are narrowed by filters and chosen together', () => {
    const chosen = vi.fn();
    render(<SortTable frames={many(40)} selected={new Set()} onPress={() => undefined} onSelect={chosen} />, {
      wrapper: around,
    });
    fireEvent.change(screen.getByLabelText('noise from'), { target: { value: '1,5' } });
    fireEvent.click(screen.getByText('choose these 10'));
    expect((chosen.mock.calls[0][0] as Set<string>).size).toBe(10);
    fireEvent.change(screen.getByLabelText('Name contains'), { target: { value: 'f0001' } });
    expect(screen.getByText('choose these 1')).toBeTruthy();
  });

  it('a span with open ends takes all, one with an end nothing that was not measured', () => {
    expect(isWithin(undefined, { from: null, to: null })).toBe(true);
    expect(isWithin(undefined, { from: 0, to: null })).toBe(false);
    expect(isWithin(3, { from: 2, to: 3 })).toBe(true);
    expect(numberOrOpen(' ')).toBeNull();
    expect(numberOrOpen('2,5')).toBe(2.5);
    expect(numberOrOpen('wide')).toBeNull();
  });
});

describe('sorting by hand', () => {
  const shoot = { id: 's', name: 'Reeds', createdAt: '', removedAt: null, coverFrameIds: [] };
  const detail = (frames: readonly SheetFrame[]) =>
    ({ ...shoot, frames, frameCount: frames.length, piles: {} }) as unknown as ShootDetail;

  it('is shown before the server has answered, with the piles counted anew', () => {
    const before = detail([frame('a', 'soft'), frame('b', 'soft'), frame('c', 'grainy')]);
    const put = changedShoot(before, 's', [{ id: 'a', pileByHand: 'good-as-is' }]);
    expect(put.piles).toMatchObject({ 'good-as-is': 1, soft: 1, grainy: 1 });
    expect(changedShoot(before, 's', [{ id: 'b', isRemoved: true }]).frames.map(({ id }) => id)).toEqual(['a', 'c']);
    expect(changedShoot(before, 's', [{ id: 'b', shootId: 't' }]).frameCount).toBe(2);
    expect(changedShoot(before, 's', [{ id: 'b', name: 'x.jpg' }]).frames[1].name).toBe('x.jpg');
  });

  it('sends what to do, and to undo it what was there before', async () => {
    const sent: unknown[] = [];
    vi.stubGlobal('fetch', async (_: string, { body }: RequestInit = {}) => {
      if (body) sent.push(JSON.parse(String(body)));
      return new Response(null, { status: 204 });
    });
    const { result } = renderHook(() => useSorting('s'), { wrapper: around });
    const frames = [frame('a', 'soft', { pileByHand: 'grainy' }), frame('b', 'soft')];
    act(() => result.current.putInto(frames, 'good-as-is'));
    await waitFor(() => expect(result.current.said).toBe('2 frames put into “Good as is” by hand.'));
    act(() => result.current.undo());
    await waitFor(() => expect(result.current.said).toMatch(/^Undone/));
    expect(sent).toEqual([
      { changes: frames.map(({ id }) => ({ id, pileByHand: 'good-as-is' })) },
      {
        changes: [
          { id: 'a', pileByHand: 'grainy' },
          { id: 'b', pileByHand: null },
        ],
      },
    ]);
    expect(result.current.canUndo).toBe(false);
  });

  it('an undoing that failed can be tried again', async () => {
    let isDown = false;
    const sent: unknown[] = [];
    vi.stubGlobal('fetch', async (_: string, { body }: RequestInit = {}) => {
      if (isDown) return Response.json({ error: 'The server is gone.', code: 'X' }, { status: 503 });
      if (body) sent.push(JSON.parse(String(body)));
      return new Response(null, { status: 204 });
    });
    const { result } = renderHook(() => useSorting('s'), { wrapper: around });
    act(() => result.current.remove([frame('a', 'soft')]));
    await waitFor(() => expect(result.current.canUndo).toBe(true));
    isDown = true;
    act(() => result.current.undo());
    await waitFor(() => expect(result.current.said).toBe('The server is gone.'));
    isDown = false;
    act(() => result.current.undo());
    await waitFor(() => expect(result.current.said).toMatch(/^Undone/));
    expect(sent.at(-1)).toEqual({ changes: [{ id: 'a', isRemoved: false }] });
    expect(result.current.canUndo).toBe(false);
  });

  it('says what the server refused, and has nothing to undo then', async () => {
    vi.stubGlobal('fetch', async () => Response.json({ error: 'The disk is full.', code: 'X' }, { status: 507 }));
    const { result } = renderHook(() => useSorting('s'), { wrapper: around });
    act(() => result.current.remove([frame('a', 'soft')]));
    await waitFor(() => expect(result.current.said).toBe('The disk is full.'));
    expect(result.current.canUndo).toBe(false);
  });
});
