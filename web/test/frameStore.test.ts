import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { emptyPrescription, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../src/api/queries';

vi.stubGlobal('window', new EventTarget());
const { useFrameStore } = await import('../src/stores/frameStore');

/** A stand-in for the server's one route: saves on top of the right revision, else 409. */
let held: { revision: number; prescription: Prescription };
let requests: number;
let isDown: boolean;

beforeEach(() => {
  vi.useFakeTimers();
  held = { revision: 0, prescription: emptyPrescription() };
  requests = 0;
  isDown = false;
  vi.stubGlobal('fetch', async (_: string, init: RequestInit) => {
    requests++;
    if (isDown) throw new TypeError('no connection');
    const { revision, prescription } = JSON.parse(init.body as string) as typeof held;
    if (revision !== held.revision)
      return Response.json({ code: 'STALE', error: 'Changed.', saved: held }, { status: 409 });
    held = { revision: revision + 1, prescription };
    return Response.json({ revision: held.revision });
  });
  useFrameStore.setState({ frame: null });
  useFrameStore.getState().open({ id: crypto.randomUUID(), saved: held } as unknown as FrameDetail);
});

afterEach(() => vi.useRealTimers());

const state = () => useFrameStore.getState();
const opacity = (value: number) => (old: Prescription) => ({ ...old, mask: { ...old.mask, opacityPercent: value } });
const shown = () => state().prescription!.mask.opacityPercent;
const settle = () => vi.advanceTimersByTimeAsync(1000);

describe('the frame store', () => {
  it('saves every change by itself, the last of a quick row once', async () => {
    for (const value of [90, 80, 70]) state().change(opacity(value));
    expect(state().saveState).toBe('saving');
    await settle();
    expect(state().saveState).toBe('saved');
    expect(requests).toBe(1);
    expect(held.prescription.mask.opacityPercent).toBe(70);
  });

  it('undoes and redoes step by step, and saves that as well', async () => {
    state().change(opacity(90));
    state().change(opacity(80));
    state().undo();
    expect(shown()).toBe(90);
    state().undo();
    expect(shown()).toBe(100);
    state().undo();
    state().redo();
    expect(shown()).toBe(90);
    state().change(opacity(10));
    expect(state().future).toEqual([]);
    await settle();
    expect(held.prescription.mask.opacityPercent).toBe(10);
  });

  it('a dragged slider is one step; a pause or another control begins a new one', () => {
    for (const value of [99, 98, 97]) state().change(opacity(value), 'opacity');
    expect(state().past).toHaveLength(1);
    vi.advanceTimersByTime(2000);
    state().change(opacity(60), 'opacity');
    state().change((old) => ({ ...old, box: { x: 0, y: 0, width: 64, height: 64 } }), 'box');
    expect(state().past).toHaveLength(3);
    state().undo();
    state().undo();
    expect(shown()).toBe(97);
  });

  it('what the program sets by itself is saved but not undone', async () => {
    state().begin(opacity(55));
    expect(state().past).toEqual([]);
    await settle();
    expect(held.prescription.mask.opacityPercent).toBe(55);
  });

  it('a stale save keeps both: the newer can be loaded, undo brings mine back', async () => {
    const theirs = opacity(33)(emptyPrescription());
    held = { revision: 5, prescription: theirs };
    state().change(opacity(90));
    await settle();
    expect(state()).toMatchObject({ saveState: 'stale', newer: { revision: 5 } });
    expect(shown()).toBe(90);
    state().loadNewer();
    expect(shown()).toBe(33);
    expect(held.revision).toBe(5);
    state().undo();
    await settle();
    expect(held).toMatchObject({ revision: 6, prescription: { mask: { opacityPercent: 90 } } });
  });

  it('or mine is kept on top, and undo brings theirs back', async () => {
    held = { revision: 2, prescription: opacity(33)(emptyPrescription()) };
    state().change(opacity(90));
    await settle();
    state().keepMine();
    await settle();
    expect(held).toMatchObject({ revision: 3, prescription: { mask: { opacityPercent: 90 } } });
    state().undo();
    expect(shown()).toBe(33);
  });

  it('without a server nothing is lost: it says so and saves as soon as there is one', async () => {
    isDown = true;
    state().change(opacity(20));
    await settle();
    expect(state()).toMatchObject({ saveState: 'failed', saveError: expect.stringMatching(/does not answer/) });
    isDown = false;
    await vi.advanceTimersByTimeAsync(4000);
    expect(state().saveState).toBe('saved');
    expect(held.prescription.mask.opacityPercent).toBe(20);
  });
});
