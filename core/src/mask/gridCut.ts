import type { Grid } from './grid';

/** What a sample hangs on: nothing, its tree's root, or nothing any more. */
const NONE = -1;
const TERMINAL = -2;
const ORPHAN = -3;

/**
 * Minimum cut of a grid whose samples hang on source and sink and on their neighbours.
 *
 * @param pull - Per sample: how much dearer it is to cut it from the source than from the sink; below 0 the other way.
 * @returns Per sample 1 on the source's side.
 * Source: Boykov & Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in
 * vision", IEEE TPAMI 26 (2004).
 */
export function gridCut(grid: Grid, pull: Float32Array): Uint8Array {
  return new TwoTrees(grid, pull).cut();
}

/** Two trees that grow from source and sink, and the flow between them where they meet. */
class TwoTrees {
  private readonly count: number;
  private readonly neighbours: Int32Array;
  /** What still fits through each arc; one sample without any room stands for those that are not there. */
  private readonly room: Float32Array;
  private readonly left: Float32Array;
  /** The arc that leads towards the root of a sample's tree. */
  private readonly parent: Int32Array;
  private readonly isSink: Uint8Array;
  private readonly stamp: Int32Array;
  private readonly far: Int32Array;
  private readonly active: number[] = [];
  private readonly isActive: Uint8Array;
  private readonly orphans: number[] = [];
  private time = 0;

  constructor({ samples, neighbours, weights }: Grid, pull: Float32Array) {
    this.count = samples.length;
    this.neighbours = neighbours;
    this.room = new Float32Array(8 * (this.count + 1));
    this.room.set(weights);
    this.left = pull.slice();
    this.parent = new Int32Array(this.count + 1).fill(NONE);
    this.isSink = new Uint8Array(this.count + 1);
    this.stamp = new Int32Array(this.count + 1);
    this.far = new Int32Array(this.count + 1);
    this.isActive = new Uint8Array(this.count);
    for (let i = 0; i < this.count; i++) {
      if (this.left[i] === 0) continue;
      this.isSink[i] = this.left[i] < 0 ? 1 : 0;
      this.parent[i] = TERMINAL;
      this.far[i] = 1;
      this.activate(i);
    }
  }

  cut(): Uint8Array {
    const { active, isActive, orphans, parent, isSink } = this;
    for (let at = 0; at < active.length;) {
      const i = active[at];
      if (parent[i] === NONE) {
        isActive[i] = 0;
        at++;
        continue;
      }
      const middle = this.grow(i);
      this.time++;
      if (middle === NONE) {
        isActive[i] = 0;
        at++;
      } else {
        this.augment(middle);
        for (let k = 0; k < orphans.length; k++) this.adopt(orphans[k]);
        orphans.length = 0;
      }
      // The queue is read from its front; what was read is dropped now and then.
      if (at > 1 << 16) {
        active.splice(0, at);
        at = 0;
      }
    }
    const labels = new Uint8Array(this.count);
    for (let i = 0; i < this.count; i++) labels[i] = parent[i] !== NONE && isSink[i] === 0 ? 1 : 0;
    return labels;
  }

  private activate(i: number): void {
    if (this.isActive[i]) return;
    this.isActive[i] = 1;
    this.active.push(i);
  }

  private headOf(arc: number): number {
    return this.neighbours[arc];
  }

  private sisterOf(arc: number): number {
    return 8 * this.neighbours[arc] + ((arc & 7) ^ 1);
  }

  private orphan(i: number): void {
    this.parent[i] = ORPHAN;
    this.orphans.push(i);
  }

  /** Grows the tree of `i`; returns the arc from the source's tree to the sink's where they meet. */
  private grow(i: number): number {
    const { neighbours, room, parent, isSink, stamp, far } = this;
    const sink = isSink[i] === 1;
    for (let d = 0; d < 8; d++) {
      const arc = 8 * i + d;
      const j = neighbours[8 * i + d];
      if (room[sink ? 8 * j + (d ^ 1) : arc] <= 0) continue;
      if (parent[j] === NONE) {
        isSink[j] = isSink[i];
        parent[j] = 8 * j + (d ^ 1);
        stamp[j] = stamp[i];
        far[j] = far[i] + 1;
        this.activate(j);
      } else if (isSink[j] !== isSink[i]) {
        return sink ? 8 * j + (d ^ 1) : arc;
      } else if (stamp[j] <= stamp[i] && far[j] > far[i]) {
        parent[j] = 8 * j + (d ^ 1);
        stamp[j] = stamp[i];
        far[j] = far[i] + 1;
      }
    }
    return NONE;
  }

  /** The least that still fits from the source through the arc in the middle to the sink. */
  private narrowest(middle: number): number {
    const { room, parent, left } = this;
    let least = room[middle];
    let i = middle >> 3;
    for (; parent[i] !== TERMINAL; i = this.headOf(parent[i])) least = Math.min(least, room[this.sisterOf(parent[i])]);
    least = Math.min(least, left[i]);
    for (i = this.headOf(middle); parent[i] !== TERMINAL; i = this.headOf(parent[i])) {
      least = Math.min(least, room[parent[i]]);
    }
    return Math.min(least, -left[i]);
  }

  private augment(middle: number): void {
    const { room, parent, left } = this;
    const least = this.narrowest(middle);
    room[this.sisterOf(middle)] += least;
    room[middle] -= least;
    let i = middle >> 3;
    while (parent[i] !== TERMINAL) {
      const arc = parent[i];
      const next = this.headOf(arc);
      room[arc] += least;
      room[this.sisterOf(arc)] -= least;
      if (room[this.sisterOf(arc)] <= 0) this.orphan(i);
      i = next;
    }
    left[i] -= least;
    if (left[i] <= 0) this.orphan(i);
    for (i = this.headOf(middle); parent[i] !== TERMINAL;) {
      const arc = parent[i];
      const next = this.headOf(arc);
      room[this.sisterOf(arc)] += least;
      room[arc] -= least;
      if (room[arc] <= 0) this.orphan(i);
      i = next;
    }
    left[i] += least;
    if (left[i] >= 0) this.orphan(i);
  }

  /** Distance to the tree's root, or none where its root is an orphan. */
  private rootDistance(start: number): number {
    const { parent, stamp, far, time } = this;
    let distance = 0;
    for (let j = start; ; j = this.headOf(parent[j])) {
      if (stamp[j] === time) return distance + far[j];
      distance++;
      if (parent[j] === TERMINAL) {
        stamp[j] = time;
        far[j] = 1;
        return distance;
      }
      if (parent[j] === ORPHAN || parent[j] === NONE) return Infinity;
    }
  }

  /** Finds an orphan another parent in its own tree; where there is none it falls off. */
  private adopt(i: number): void {
    const { neighbours, room, parent, isSink, stamp, far, time } = this;
    let best = NONE;
    let nearest = Infinity;
    for (let d = 0; d < 8; d++) {
      const j = neighbours[8 * i + d];
      const through = isSink[i] ? room[8 * i + d] : room[8 * j + (d ^ 1)];
      if (through <= 0 || isSink[j] !== isSink[i] || parent[j] === NONE || parent[j] === ORPHAN) continue;
      let distance = this.rootDistance(j);
      if (distance === Infinity) continue;
      if (distance < nearest) {
        nearest = distance;
        best = 8 * i + d;
      }
      for (let k = j; stamp[k] !== time; k = this.headOf(parent[k])) {
        stamp[k] = time;
        far[k] = distance--;
      }
    }
    parent[i] = best;
    if (best === NONE) this.fallOff(i);
    else {
      stamp[i] = time;
      far[i] = nearest + 1;
    }
  }

  private fallOff(i: number): void {
    const { neighbours, room, parent, isSink } = this;
    for (let d = 0; d < 8; d++) {
      const j = neighbours[8 * i + d];
      if (isSink[j] !== isSink[i] || parent[j] === NONE) continue;
      const through = isSink[i] ? room[8 * i + d] : room[8 * j + (d ^ 1)];
      if (through > 0) this.activate(j);
      if (parent[j] >= 0 && this.headOf(parent[j]) === i) this.orphan(j);
    }
  }
}
