import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { emptyPrescription, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../src/api/queries';

vi.stubGlobal('window', new EventTarget());
const { useFrameStore } = await import('../src/stores/frameStore');
const { forgetAllWork, framesLeftUnsaved, keptWork } = await import('../src/stores/keptWork');

/** A stand-in for the server: one prescription a frame, saved on top of the right revision, else 409. */
interface Held {
  revision: number;
  prescription: Prescription;
}
let server: Map<string, Held>;
let requests: { path: string; method: string }[];
let isDown: boolean;
let isFull: boolean;
/** Resolves when an answer may go out; null lets all go at once. */
let gate: Promise<void> | null;

const A = 'frame-a';
const B = 'frame-b';
const heldOf = (id: string): Held => server.get(id) ?? { revision: 0, prescription: emptyPrescription() };
const detail = (id: string) => ({ id, name: `${id}.jpg`, saved: { ...heldOf(id) } }) as unknown as FrameDetail;

beforeEach(async () => {
  vi.useFakeTimers();
  server = new Map();
  requests = [];
  isDown = false;
  isFull = false;
  gate = null;
  vi.stubGlobal('fetch', async (path: string, init: RequestInit = {}) => {
    const { method = 'GET' } = init;
    if (isDown) throw new TypeError('no connection');
    requests.push({ path, method });
    const id = /frames\/([^/]+)/.exec(path)![1];
    if (method !== 'PUT') return Response.json(path.includes('/versions/') ? {} : detail(id));
    if (isFull) return Response.json({ code: 'DISK_FULL', error: 'The disk is full.' }, { status: 507 });
    const { revision, prescription } = JSON.parse(init.body as string) as Held;
    const stale = revision !== heldOf(id).revision;
    if (!stale) server.set(id, { revision: revision + 1, prescription });
    const answer = heldOf(id);
    await gate;
    if (stale) return Response.json({ code: 'STALE', error: 'Changed.', saved: answer }, { status: 409 });
    return Response.json({ revision: answer.revision });
  });
  await startPage();
  state().open(detail(A));
  await settle();
});

afterEach(() => vi.useRealTimers());

/** As after a reload: what the page held is gone, what the browser keeps is not. */
async function startPage(keeps = false): Promise<void> {
  if (!keeps) await inTime(forgetAllWork());
  state().forgetPage();
}

async function inTime<T>(promise: Promise<T>): Promise<T> {
  let isDone = false;
  void promise.finally(() => (isDone = true));
  while (!isDone) await vi.advanceTimersByTimeAsync(10);
  return promise;
}

const state = () => useFrameStore.getState();
const work = () => state().work!;
const held = () => heldOf(A);
const opacity = (value: number) => (old: Prescription) => ({ ...old, mask: { ...old.mask, opacityPercent: value } });
const shown = () => state().prescription!.mask.opacityPercent;
const savedOpacity = (id: string) => heldOf(id).prescription.mask.opacityPercent;
const settle = () => vi.advanceTimersByTimeAsync(1000);

describe('the frame store', () => {
  it('saves every change by itself, the last of a quick row once', async () => {
    for (const value of [90, 80, 70]) state().change(opacity(value));
    expect(work().saveState).toBe('saving');
    await settle();
    expect(work().saveState).toBe('saved');
    expect(requests).toEqual([{ path: '/api/frames/frame-a/prescription', method: 'PUT' }]);
    expect(held().prescription.mask.opacityPercent).toBe(70);
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
    expect(work().future).toEqual([]);
    await settle();
    expect(held().prescription.mask.opacityPercent).toBe(10);
  });

  it('a dragged slider is one step; a pause or another control begins a new one', () => {
    for (const value of [99, 98, 97]) state().change(opacity(value), 'opacity');
    expect(work().past).toHaveLength(1);
    vi.advanceTimersByTime(2000);
    state().change(opacity(60), 'opacity');
    state().change((old) => ({ ...old, box: { x: 0, y: 0, width: 64, height: 64 } }), 'box');
    expect(work().past).toHaveLength(3);
    state().undo();
    state().undo();
    expect(shown()).toBe(97);
  });

  it('what the program sets by itself is saved but not undone', async () => {
    state().begin(opacity(55));
    expect(work().past).toEqual([]);
    await settle();
    expect(held().prescription.mask.opacityPercent).toBe(55);
  });

  it('a stale save keeps both: the newer can be loaded, undo brings mine back', async () => {
    const theirs = opacity(33)(emptyPrescription());
    server.set(A, { revision: 5, prescription: theirs });
    state().change(opacity(90));
    await settle();
    expect(work()).toMatchObject({ saveState: 'stale', newer: { revision: 5 } });
    expect(shown()).toBe(90);
    state().loadNewer();
    expect(shown()).toBe(33);
    expect(held().revision).toBe(5);
    state().undo();
    await settle();
    expect(held()).toMatchObject({ revision: 6, prescription: { mask: { opacityPercent: 90 } } });
  });

  it('or mine is kept on top, and undo brings theirs back', async () => {
    server.set(A, { revision: 2, prescription: opacity(33)(emptyPrescription()) });
    state().change(opacity(90));
    await settle();
    state().keepMine();
    await settle();
    expect(held()).toMatchObject({ revision: 3, prescription: { mask: { opacityPercent: 90 } } });
    state().undo();
    expect(shown()).toBe(33);
  });

  it('without a server nothing is lost: it says so and saves as soon as there is one', async () => {
    isDown = true;
    state().change(opacity(20));
    await settle();
    expect(work()).toMatchObject({ saveState: 'failed', saveError: expect.stringMatching(/does not answer/) });
    isDown = false;
    await vi.advanceTimersByTimeAsync(4000);
    expect(work().saveState).toBe('saved');
    expect(held().prescription.mask.opacityPercent).toBe(20);
  });

  it('a full disk keeps the change here, says so, and saves it when there is room', async () => {
    isFull = true;
    state().change(opacity(20));
    await settle();
    expect(work()).toMatchObject({ saveState: 'failed', saveError: 'The disk is full.' });
    expect(shown()).toBe(20);
    isFull = false;
    await vi.advanceTimersByTimeAsync(4000);
    expect(savedOpacity(A)).toBe(20);
  });

  it('an answer that got lost on its way back is not taken for somebody else’s work', async () => {
    state().change(opacity(20));
    server.set(A, { revision: 1, prescription: opacity(20)(emptyPrescription()) });
    await settle();
    expect(work()).toMatchObject({ saveState: 'saved', revision: 1, newer: null });
  });
});

describe('changing frames', () => {
  it('within the moment before a save saves the frame that is left', async () => {
    state().change(opacity(70));
    state().open(detail(B));
    await settle();
    expect(savedOpacity(A)).toBe(70);
    expect(savedOpacity(B)).toBe(100);
  });

  it('while a save is under way loses neither that save nor what came after it', async () => {
    let open!: () => void;
    gate = new Promise((resolve) => (open = resolve));
    state().change(opacity(70));
    await vi.advanceTimersByTimeAsync(300);
    state().change(opacity(60));
    state().open(detail(B));
    open();
    gate = null;
    await settle();
    expect(heldOf(A)).toMatchObject({ revision: 2, prescription: { mask: { opacityPercent: 60 } } });
  });

  it('after a failed save, or with a conflict open, keeps the work and says where it is', async () => {
    isDown = true;
    state().change(opacity(70));
    await settle();
    state().open(detail(B));
    await settle();
    expect(state().unsaved).toMatchObject([{ frameId: A, saveState: 'failed' }]);
    isDown = false;
    await vi.advanceTimersByTimeAsync(4000);
    expect(savedOpacity(A)).toBe(70);
    expect(state().unsaved).toEqual([]);

    server.set(B, { revision: 4, prescription: opacity(33)(emptyPrescription()) });
    state().change(opacity(10));
    await settle();
    state().open(detail(A));
    await settle();
    expect(state().unsaved).toMatchObject([{ frameId: B, saveState: 'stale' }]);
    state().open(detail(B));
    expect(work()).toMatchObject({ newer: { revision: 4 } });
    expect(shown()).toBe(10);
  });

  it('and coming back shows what was done, not the state of the first load', async () => {
    const first = detail(A);
    state().change(opacity(70));
    state().open(detail(B));
    await settle();
    state().open(first);
    expect(shown()).toBe(70);
    state().change(opacity(60));
    await settle();
    expect(work().newer).toBeNull();
    expect(savedOpacity(A)).toBe(60);
    state().undo();
    state().undo();
    expect(shown()).toBe(100);
  });

  it('takes what was saved elsewhere meanwhile, and undo goes back behind it', async () => {
    state().change(opacity(70));
    await settle();
    state().open(detail(B));
    server.set(A, { revision: 9, prescription: opacity(33)(emptyPrescription()) });
    state().open(detail(A));
    expect(work().revision).toBe(9);
    expect(shown()).toBe(33);
    state().undo();
    expect(shown()).toBe(70);
  });

  it('keeps only the newest in the page, and the way back of the others in the browser', async () => {
    state().change(opacity(70));
    await settle();
    state().change(opacity(60));
    await settle();
    for (let i = 0; i < 40; i++) state().open(detail(`other-${i}`));
    await settle();
    // Long out of the page: what the browser kept brings the way back.
    state().open(detail(A));
    await settle();
    expect(shown()).toBe(60);
    state().undo();
    expect(shown()).toBe(70);
    state().undo();
    expect(shown()).toBe(100);
  });

  it('an answer that took its time stays with the frame it was asked for', async () => {
    state().open(detail(B));
    state().changeIn(A, opacity(44));
    await settle();
    expect(shown()).toBe(100);
    expect([savedOpacity(A), savedOpacity(B)]).toEqual([44, 100]);
  });
});

describe('saving now', () => {
  it('resolves with the revision of all that was done, also while an earlier save is under way', async () => {
    let open!: () => void;
    gate = new Promise((resolve) => (open = resolve));
    state().change(opacity(70));
    await vi.advanceTimersByTimeAsync(300);
    state().change(opacity(60));
    const saved = state().saveNow();
    open();
    gate = null;
    expect(await inTime(saved)).toBe(2);
    expect(savedOpacity(A)).toBe(60);
  });

  it('says so where it could not', async () => {
    isDown = true;
    state().change(opacity(70));
    expect(await inTime(state().saveNow())).toBeNull();
  });
});

describe('coming back to the page', () => {
  it('the way back is still there', async () => {
    state().change(opacity(90));
    state().change(opacity(80));
    await settle();
    await startPage(true);
    state().open(detail(A));
    await settle();
    expect(shown()).toBe(80);
    state().undo();
    expect(shown()).toBe(90);
    state().undo();
    expect(shown()).toBe(100);
  });

  it('what was not saved is offered, and comes back only when it is wanted', async () => {
    isDown = true;
    state().change(opacity(12));
    await settle();
    expect(await inTime(framesLeftUnsaved())).toEqual([{ frameId: A, name: 'frame-a.jpg' }]);
    await startPage(true);
    isDown = false;
    state().open(detail(A));
    await settle();
    expect(shown()).toBe(100);
    expect(work().leftBehind!.mask.opacityPercent).toBe(12);
    state().takeLeftBehind();
    expect(shown()).toBe(12);
    await settle();
    expect(savedOpacity(A)).toBe(12);
    expect(await inTime(framesLeftUnsaved())).toEqual([]);
    state().undo();
    expect(shown()).toBe(100);
  });

  it('and stays on offer however often the page is left without an answer', async () => {
    isDown = true;
    state().change(opacity(12));
    await settle();
    isDown = false;
    for (let visit = 0; visit < 2; visit++) {
      await startPage(true);
      state().open(detail(A));
      await settle();
    }
    expect(work().leftBehind!.mask.opacityPercent).toBe(12);
    state().throwLeftBehind();
    await settle();
    expect((await inTime(keptWork(A)))!.leftBehind).toBeNull();
  });

  it('leaving asks while something is not saved, and only then', async () => {
    const leave = () => {
      const event = new Event('beforeunload', { cancelable: true });
      window.dispatchEvent(event);
      return event.defaultPrevented;
    };
    expect(leave()).toBe(false);
    state().change(opacity(12));
    expect(leave()).toBe(true);
    await settle();
    expect(leave()).toBe(false);
  });
});

describe('what was done elsewhere', () => {
  const copy = async () => {
    const { before, after } = await inTime(state().changeElsewhere(B, opacity(25)));
    state().did({ kind: 'copies', frames: [{ frameId: B, name: 'frame-b.jpg', before, after }] });
  };

  it('a copy into another frame is saved there, undone with the other acts, and done again', async () => {
    await copy();
    expect(savedOpacity(B)).toBe(25);
    state().undo();
    await settle();
    expect([savedOpacity(A), savedOpacity(B)]).toEqual([100, 100]);
    state().redo();
    await settle();
    expect(savedOpacity(B)).toBe(25);
  });

  it('but not where that frame was changed since: then it says so', async () => {
    await copy();
    server.set(B, { revision: 7, prescription: opacity(3)(emptyPrescription()) });
    state().undo();
    await settle();
    expect(savedOpacity(B)).toBe(3);
    expect(state().notice).toMatch(/frame-b.jpg was changed since/);
  });

  it('a frame that was opened before shows the copy, and can undo it there', async () => {
    state().open(detail(B));
    state().open(detail(A));
    await copy();
    state().open(detail(B));
    expect(shown()).toBe(25);
    state().undo();
    await settle();
    expect(savedOpacity(B)).toBe(100);
  });

  it('a removed version is put back', async () => {
    state().did({ kind: 'removed version', frameId: A, versionId: 'v' });
    state().undo();
    await settle();
    expect(requests.at(-1)).toEqual({ path: '/api/frames/frame-a/versions/v/restore', method: 'POST' });
    state().redo();
    await settle();
    expect(requests.at(-1)).toEqual({ path: '/api/frames/frame-a/versions/v', method: 'DELETE' });
  });
});
