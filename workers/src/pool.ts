import * as Comlink from 'comlink';
import type { AreaOperation, Lab, PartLikeness, ProbeProposal, StrongestSafe } from '@vitrocept/core';
import type {
  AreaJob,
  ColourJob,
  DrawnMask,
  SafestJob,
  FacePartJob,
  KernelUrls,
  MaskJob,
  ProposeJob,
  ShownTile,
  TileJob,
  WorkerApi,
  WorkerFrame,
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
  /** Places it has worked at last: it still has their samples and what follows from them. */
  readonly places: string[];
}

/** No more than the pieces a worker keeps. */
const MOST_PLACES = 14;
/** Tiles whose rank begins with the same thousand are equally urgent. */
const TURN = 1000;

const turnOf = ({ rank }: WantedTile) => Math.floor(rank / TURN);
const placeOf = ({ job: { frame, tile, effort } }: WantedTile) =>
  `${frame.id} ${tile.x} ${tile.y} ${tile.width} ${tile.height} ${effort}`;

/**
 * A few workers and the tiles that are wanted from them now. What is no longer wanted is stopped and its result
 * dropped; what is wanted waits by rank. A worker that dies is replaced, and its tile is reported as failed.
 */
export class TilePool {
  private readonly hands: Hand[] = [];
  private wanted = new Map<string, WantedTile>();
  private readonly failed = new Map<string, string>();
  private lightHand: Comlink.Remote<WorkerApi> | null = null;

  constructor(
    private readonly makeWorker: () => Worker,
    private readonly kernelUrls: KernelUrls,
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

  lookAhead(frame: WorkerFrame): Promise<void> {
    return this.freeHand().api.lookAhead(frame);
  }

  pickColour(job: ColourJob): Promise<Lab> {
    return this.freeHand().api.pickColour(job);
  }

  strongestSafe(job: SafestJob): Promise<StrongestSafe> {
    const { api } = this.freeHand();
    return api.warmUp(this.kernelUrls).then(() => api.strongestSafe(job));
  }

  async judgeFacePart(job: FacePartJob): Promise<PartLikeness> {
    const { x, y } = job.part;
    const isThere = (place: string) => {
      const [frameId, ...numbers] = place.split(' ');
      const [left, top, width, height] = numbers.map(Number);
      return frameId === job.frame.id && x >= left && y >= top && x < left + width && y < top + height;
    };
    // Whoever has just shown that place need not solve it again.
    const { api } = this.hands.find(({ places }) => places.some(isThere)) ?? this.freeHand();
    await api.warmUp(this.kernelUrls);
    return api.judgeFacePart(job);
  }

  /** Light is shown by a hand of its own: a slider does not wait for a tile that is being solved. */
  get light(): Comlink.Remote<WorkerApi> {
    if (!this.lightHand) {
      this.lightHand = Comlink.wrap<WorkerApi>(this.makeWorker());
      void this.lightHand.warmUp(this.kernelUrls).catch(() => undefined);
    }
    return this.lightHand;
  }

  private freeHand(): Hand {
    return this.hands.find((hand) => !hand.busy) ?? this.hands[0];
  }

  private hire(): Hand {
    const worker = this.makeWorker();
    const api = Comlink.wrap<WorkerApi>(worker);
    const hand: Hand = { worker, api, busy: null, places: [] };
    worker.addEventListener('error', (event) => this.replace(hand, event.message));
    void api.warmUp(this.kernelUrls).catch((error: Error) => this.replace(hand, error.message));
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
      const next = this.nextFor(hand, waiting);
      if (!next) return;
      waiting.splice(waiting.indexOf(next), 1);
      void this.work(hand, next);
    }
  }

  /** Of the most urgent the one whose place this hand knows, else one that nobody knows. */
  private nextFor(hand: Hand, waiting: readonly WantedTile[]): WantedTile | undefined {
    const urgent = waiting.filter((tile) => turnOf(tile) === turnOf(waiting[0]));
    const isKnownTo = ({ places }: Hand, tile: WantedTile) => places.includes(placeOf(tile));
    return (
      urgent.find((tile) => isKnownTo(hand, tile)) ??
      urgent.find((tile) => !this.hands.some((other) => isKnownTo(other, tile))) ??
      urgent[0]
    );
  }

  private async work(hand: Hand, wanted: WantedTile): Promise<void> {
    const { key, job } = wanted;
    const place = placeOf(wanted);
    const known = hand.places.indexOf(place);
    if (known >= 0) hand.places.splice(known, 1);
    hand.places.push(place);
    if (hand.places.length > MOST_PLACES) hand.places.shift();
    const shared = new SharedArrayBuffer(4);
    hand.busy = { key, stop: new Int32Array(shared) };
    try {
      await hand.api.warmUp(this.kernelUrls);
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
