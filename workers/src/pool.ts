import * as Comlink from 'comlink';
import type { AreaOperation, Lab, PartLikeness, ProbeProposal } from '@vitrocept/core';
import type {
  AreaJob,
  ColourJob,
  DrawnMask,
  FacePartJob,
  MaskJob,
  ProposeJob,
  ShownTile,
  TileJob,
  WorkerApi,
} from './protocol';

export interface WantedTile {
  /** Says what the tile shows: equal keys, equal pixels. */
  readonly key: string;
  readonly job: TileJob;
  /** Lower comes first. */
  readonly rank: number;
}

interface Hand {
  readonly worker: Worker;
  readonly api: Comlink.Remote<WorkerApi>;
  busy: { key: string; stop: Int32Array } | null;
}

/**
 * A few workers and the tiles that are wanted from them now. What is no longer wanted is stopped and its result
 * dropped; what is wanted waits by rank. A worker that dies is replaced, and its tile is reported as failed.
 */
export class TilePool {
  private readonly hands: Hand[] = [];
  private wanted = new Map<string, WantedTile>();
  private readonly failed = new Map<string, string>();

  constructor(
    private readonly makeWorker: () => Worker,
    private readonly kernelsUrl: string,
    private readonly onTile: (key: string, tile: ShownTile) => void,
    private readonly onFailure: (key: string, sentence: string) => void,
    count: number,
  ) {
    for (let i = 0; i < count; i++) this.hands.push(this.hire());
  }

  /** Replaces everything that was wanted before. */
  want(tiles: readonly WantedTile[]): void {
    this.wanted = new Map(tiles.map((tile) => [tile.key, tile]));
    for (const key of this.failed.keys()) if (!this.wanted.has(key)) this.failed.delete(key);
    for (const hand of this.hands) {
      if (hand.busy && !this.wanted.has(hand.busy.key)) Atomics.store(hand.busy.stop, 0, 1);
    }
    this.assign();
  }

  drawMask(job: MaskJob): Promise<DrawnMask> {
    return this.freeHand().api.drawMask(job);
  }

  proposeProbes(job: ProposeJob): Promise<ProbeProposal[]> {
    return this.freeHand().api.proposeProbes(job);
  }

  makeArea(job: AreaJob): Promise<AreaOperation> {
    return this.freeHand().api.makeArea(job);
  }

  pickColour(job: ColourJob): Promise<Lab> {
    return this.freeHand().api.pickColour(job);
  }

  async judgeFacePart(job: FacePartJob): Promise<PartLikeness> {
    const { api } = this.freeHand();
    await api.warmUp(this.kernelsUrl);
    return api.judgeFacePart(job);
  }

  private freeHand(): Hand {
    return this.hands.find((hand) => !hand.busy) ?? this.hands[0];
  }

  private hire(): Hand {
    const worker = this.makeWorker();
    const api = Comlink.wrap<WorkerApi>(worker);
    const hand: Hand = { worker, api, busy: null };
    worker.addEventListener('error', (event) => this.replace(hand, event.message));
    void api.warmUp(this.kernelsUrl).catch((error: Error) => this.replace(hand, error.message));
    return hand;
  }

  private replace(hand: Hand, why: string): void {
    const at = this.hands.indexOf(hand);
    if (at < 0) return;
    hand.worker.terminate();
    if (hand.busy) this.fail(hand.busy.key, why || 'The computing thread ended unexpectedly.');
    this.hands[at] = this.hire();
    this.assign();
  }

  private fail(key: string, sentence: string): void {
    if (!this.wanted.has(key)) return;
    this.failed.set(key, sentence);
    this.onFailure(key, sentence);
  }

  private assign(): void {
    const inWork = new Set(this.hands.map((hand) => hand.busy?.key));
    const waiting = [...this.wanted.values()]
      .filter((tile) => !inWork.has(tile.key) && !this.failed.has(tile.key))
      .sort((a, b) => a.rank - b.rank);
    for (const hand of this.hands) {
      if (hand.busy) continue;
      const next = waiting.shift();
      if (!next) return;
      void this.work(hand, next);
    }
  }

  private async work(hand: Hand, { key, job }: WantedTile): Promise<void> {
    const shared = new SharedArrayBuffer(4);
    hand.busy = { key, stop: new Int32Array(shared) };
    try {
      await hand.api.warmUp(this.kernelsUrl);
      const tile = await hand.api.showTile(job, shared);
      if (this.wanted.delete(key)) this.onTile(key, tile);
    } catch (error) {
      if (Atomics.load(hand.busy.stop, 0) === 0) this.fail(key, (error as Error).message);
    } finally {
      hand.busy = null;
      this.assign();
    }
  }
}
