import type { SavedPrescription } from '@vitrocept/server';
import { ApiError, send } from '../api/client';
import type { FrameDetail } from '../api/queries';
import { adopted, isSame, isUnsaved, startedWork, type FrameWork } from './frameWork';
import { keepWork, keptWork } from './keptWork';

const SAVE_DELAY_MS = 250;
const RETRY_MS = 3000;
const KEEP_DELAY_MS = 120;
const MOST_WORKS = 24;

type Timers = Map<string, ReturnType<typeof setTimeout>>;

/** The work on every frame opened in this page: saved to the server as it changes, and kept by the browser. */
export class PageWorks {
  private readonly works = new Map<string, FrameWork>();
  private readonly saveTimers: Timers = new Map();
  private readonly keepTimers: Timers = new Map();
  private readonly flights = new Map<string, Promise<void>>();
  private readonly recalls = new Map<string, Promise<void>>();

  /**
   * @param onChange - Told of every work that was put.
   * @param onScreen - The frame somebody looks at.
   */
  constructor(
    private readonly onChange: (work: FrameWork) => void,
    private readonly onScreen: () => string,
  ) {}

  get(frameId: string): FrameWork | undefined {
    return this.works.get(frameId);
  }

  unsaved(): FrameWork[] {
    return [...this.works.values()].filter(isUnsaved);
  }

  put(work: FrameWork): void {
    const { frameId } = work;
    this.works.set(frameId, work);
    this.onChange(work);
    if (this.keepTimers.has(frameId)) return;
    this.keepTimers.set(
      frameId,
      setTimeout(() => void this.keepNow(frameId), KEEP_DELAY_MS),
    );
  }

  update(frameId: string, next: (work: FrameWork) => FrameWork): void {
    const work = this.works.get(frameId);
    if (!work) return;
    const after = next(work);
    if (after === work) return;
    this.put(after);
    const isOther = after.prescription !== work.prescription || after.saveState !== work.saveState;
    if (isOther && isUnsaved(after) && !after.newer) this.saveSoon(frameId);
  }

  /** The frame is opened: its work as it was left, or begun from what the server has. */
  open(frame: FrameDetail): void {
    const work = this.taken(frame);
    // The longest unopened goes first.
    this.works.delete(frame.id);
    this.put(work);
    this.letGoOfOld();
  }

  /** Resolves with the revision under which all of the frame is saved; null where it could not be. */
  async saveNow(frameId: string): Promise<number | null> {
    clearTimeout(this.saveTimers.get(frameId));
    const before = this.works.get(frameId);
    if (before && isUnsaved(before) && !this.flights.has(frameId))
      this.flights.set(
        frameId,
        this.saveAll(frameId).finally(() => this.flights.delete(frameId)),
      );
    await this.flights.get(frameId);
    const work = this.works.get(frameId);
    return work && !isUnsaved(work) ? work.revision : null;
  }

  /** As if the page were loaded anew. */
  forget(): void {
    for (const timer of [...this.saveTimers.values(), ...this.keepTimers.values()]) clearTimeout(timer);
    for (const map of [this.works, this.saveTimers, this.keepTimers, this.flights, this.recalls]) map.clear();
  }

  private async keepNow(frameId: string): Promise<void> {
    clearTimeout(this.keepTimers.get(frameId));
    this.keepTimers.delete(frameId);
    // What was kept before is read first: writing would lose it.
    await this.recalls.get(frameId);
    const work = this.works.get(frameId);
    if (work) await keepWork(work);
  }

  private saveSoon(frameId: string, delayMs = SAVE_DELAY_MS): void {
    clearTimeout(this.saveTimers.get(frameId));
    this.saveTimers.set(
      frameId,
      setTimeout(() => void this.saveNow(frameId), delayMs),
    );
  }

  /** Work that nobody looks at and that is saved is kept by the browser; here only the newest stay. */
  private letGoOfOld(): void {
    for (const [id, work] of this.works) {
      if (this.works.size <= MOST_WORKS) return;
      const isBusy = this.flights.has(id) || this.recalls.has(id);
      if (id === this.onScreen() || isUnsaved(work) || work.leftBehind || isBusy) continue;
      clearTimeout(this.keepTimers.get(id));
      this.keepTimers.delete(id);
      void keepWork(work);
      this.works.delete(id);
    }
  }

  private taken(frame: FrameDetail): FrameWork {
    const known = this.works.get(frame.id);
    if (!known) {
      const recalling = Promise.resolve().then(() => this.recall(frame.id, frame.saved));
      this.recalls.set(
        frame.id,
        recalling.finally(() => this.recalls.delete(frame.id)),
      );
      return startedWork(frame.id, frame.name, frame.saved);
    }
    // An answer from before our last save, or one that our unsaved work will meet when it is saved, changes nothing.
    if (isUnsaved(known) || this.flights.has(frame.id) || frame.saved.revision <= known.revision) return known;
    return adopted(known, frame.saved);
  }

  /** Adds what the browser kept from earlier visits: the way back, and what had not been saved. */
  private async recall(frameId: string, loaded: SavedPrescription): Promise<void> {
    const kept = await keptWork(frameId);
    const work = this.works.get(frameId);
    if (!kept || !work) return;
    const isSameState = isSame(kept.prescription, loaded.prescription);
    const newerSteps = isSameState ? [] : kept.isUnsaved ? [] : [{ prescription: kept.prescription }];
    // Left behind twice: the older becomes a step that undo reaches.
    const older = kept.isUnsaved && kept.leftBehind ? [{ prescription: kept.leftBehind }] : [];
    const past = [...kept.past, ...older, ...newerSteps, ...work.past];
    const future = work.past.length === 0 && isSameState ? kept.future : work.future;
    const leftBehind = kept.isUnsaved && !isSameState ? kept.prescription : kept.leftBehind;
    this.put({ ...work, past, future, leftBehind });
  }

  private async saveAll(frameId: string): Promise<void> {
    for (let work = this.works.get(frameId); work && isUnsaved(work) && !work.newer; work = this.works.get(frameId)) {
      await this.sendOne(work);
      if (this.works.get(frameId)?.saveState === 'failed') return;
    }
  }

  private async sendOne({ frameId, revision, prescription }: FrameWork): Promise<void> {
    const savedUnder = (newRevision: number) => {
      const now = this.works.get(frameId)!;
      const saveState = now.prescription === prescription ? 'saved' : 'saving';
      this.put({ ...now, revision: newRevision, saveError: null, saveState });
    };
    try {
      const path = `/api/frames/${frameId}/prescription`;
      const answer = await send<{ revision: number }>('PUT', path, { revision, prescription });
      savedUnder(answer.revision);
    } catch (error) {
      const now = this.works.get(frameId)!;
      if (error instanceof ApiError && error.status === 409) {
        const saved = error.body.saved as SavedPrescription;
        // It was saved, but the answer did not come back, or was sent once more when the page was left.
        if (isSame(saved.prescription, prescription)) savedUnder(saved.revision);
        else this.put({ ...now, newer: saved, saveState: 'stale' });
        return;
      }
      this.put({ ...now, saveState: 'failed', saveError: (error as Error).message });
      // What the server refuses as it is will be refused again; all else may work in a moment.
      const status = error instanceof ApiError ? error.status : 0;
      if (status === 0 || status >= 500) this.saveSoon(frameId, RETRY_MS);
    }
  }
}
