/** Steps to the eight neighbours; each next to its opposite. */
const STEPS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [1, 1],
  [-1, -1],
  [1, -1],
  [-1, 1],
] as const;

const NONE = -1;
const TERMINAL = -2;
const ORPHAN = -3;

/** Samples of a picture, each joined to those of its eight neighbours that are among them. */
export interface Grid {
  /** Their places in the picture, in its order. */
  readonly samples: Int32Array;
  /** 8 a sample: which one lies that way; the number of samples where there is none. */
  readonly neighbours: Int32Array;
  /** 8 a sample: what it costs to cut it from that neighbour, at least 0. */
  readonly weights: Float32Array;
}

/**
 * @param isIn - Not 0 where a sample takes part; null for all.
 * @param weightOf - Cost of cutting two neighbours apart, given their places in the picture.
 */
export function gridOver(
  width: number,
  height: number,
  isIn: Uint8Array | null,
  weightOf: (place: number, neighbour: number, isDiagonal: boolean) => number,
): Grid {
  const numbers = new Int32Array(width * height).fill(NONE);
  let count = 0;
  for (let i = 0; i < numbers.length; i++) if (isIn === null || isIn[i] !== 0) numbers[i] = count++;
  const samples = new Int32Array(count);
  const neighbours = new Int32Array(8 * count).fill(count);
  const weights = new Float32Array(8 * count);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const own = numbers[i];
      if (own === NONE) continue;
      samples[own] = i;
      for (let d = 0; d < 8; d += 2) {
        const u = x + STEPS[d][0];
        const v = y + STEPS[d][1];
        if (u >= width || v < 0 || v >= height) continue;
        const j = v * width + u;
        const other = numbers[j];
        if (other === NONE) continue;
        neighbours[8 * own + d] = other;
        neighbours[8 * other + d + 1] = own;
        weights[8 * own + d] = weights[8 * other + d + 1] = weightOf(i, j, d >= 4);
      }
    }
  }
  return { samples, neighbours, weights };
}

/**
 * Minimum cut of a grid whose samples hang on source and sink and on their neighbours.
 *
 * @param pull - Per sample: how much dearer it is to cut it from the source than from the sink; below 0 the other way.
 * @returns Per sample 1 on the source's side.
 * Source: Boykov & Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in
 * vision", IEEE TPAMI 26 (2004).
 */
export function gridCut({ samples, neighbours, weights }: Grid, pull: Float32Array): Uint8Array {
  const count = samples.length;
  /** What still fits through each arc; one sample without any room stands for those that are not there. */
  const room = new Float32Array(8 * (count + 1));
  room.set(weights);
  const left = pull.slice();
  /** The arc that leads towards the root of a sample's tree. */
  const parent = new Int32Array(count + 1).fill(NONE);
  const isSink = new Uint8Array(count + 1);
  const stamp = new Int32Array(count + 1);
  const far = new Int32Array(count + 1);
  const active: number[] = [];
  const isActive = new Uint8Array(count);
  const orphans: number[] = [];
  let time = 0;
  const headOf = (arc: number) => neighbours[arc];
  const sisterOf = (arc: number) => 8 * headOf(arc) + ((arc & 7) ^ 1);
  const activate = (i: number) => {
    if (isActive[i]) return;
    isActive[i] = 1;
    active.push(i);
  };
  for (let i = 0; i < count; i++) {
    if (left[i] === 0) continue;
    isSink[i] = left[i] < 0 ? 1 : 0;
    parent[i] = TERMINAL;
    far[i] = 1;
    activate(i);
  }

  /** Grows the tree of `i`; returns the arc from the source's tree to the sink's where they meet. */
  const grow = (i: number): number => {
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
        activate(j);
      } else if (isSink[j] !== isSink[i]) {
        return sink ? 8 * j + (d ^ 1) : arc;
      } else if (stamp[j] <= stamp[i] && far[j] > far[i]) {
        parent[j] = 8 * j + (d ^ 1);
        stamp[j] = stamp[i];
        far[j] = far[i] + 1;
      }
    }
    return NONE;
  };
  const augment = (middle: number) => {
    let least = room[middle];
    let i = middle >> 3;
    for (; parent[i] !== TERMINAL; i = headOf(parent[i])) least = Math.min(least, room[sisterOf(parent[i])]);
    least = Math.min(least, left[i]);
    for (i = headOf(middle); parent[i] !== TERMINAL; i = headOf(parent[i])) least = Math.min(least, room[parent[i]]);
    least = Math.min(least, -left[i]);
    room[sisterOf(middle)] += least;
    room[middle] -= least;
    for (i = middle >> 3; parent[i] !== TERMINAL;) {
      const arc = parent[i];
      const next = headOf(arc);
      room[arc] += least;
      room[sisterOf(arc)] -= least;
      if (room[sisterOf(arc)] <= 0) orphan(i);
      i = next;
    }
    left[i] -= least;
    if (left[i] <= 0) orphan(i);
    for (i = headOf(middle); parent[i] !== TERMINAL;) {
      const arc = parent[i];
      const next = headOf(arc);
      room[sisterOf(arc)] += least;
      room[arc] -= least;
      if (room[arc] <= 0) orphan(i);
      i = next;
    }
    left[i] += least;
    if (left[i] >= 0) orphan(i);
  };
  const orphan = (i: number) => {
    parent[i] = ORPHAN;
    orphans.push(i);
  };

  /** Distance to the tree's root, or none where its root is an orphan. */
  const rootDistance = (start: number): number => {
    let distance = 0;
    for (let j = start; ; j = headOf(parent[j])) {
      if (stamp[j] === time) return distance + far[j];
      distance++;
      if (parent[j] === TERMINAL) {
        stamp[j] = time;
        far[j] = 1;
        return distance;
      }
      if (parent[j] === ORPHAN || parent[j] === NONE) return Infinity;
    }
  };
  const adopt = (i: number) => {
    let best = NONE;
    let nearest = Infinity;
    for (let d = 0; d < 8; d++) {
      const j = neighbours[8 * i + d];
      const through = isSink[i] ? room[8 * i + d] : room[8 * j + (d ^ 1)];
      if (through <= 0 || isSink[j] !== isSink[i] || parent[j] === NONE || parent[j] === ORPHAN) continue;
      let distance = rootDistance(j);
      if (distance === Infinity) continue;
      if (distance < nearest) {
        nearest = distance;
        best = 8 * i + d;
      }
      for (let k = j; stamp[k] !== time; k = headOf(parent[k])) {
        stamp[k] = time;
        far[k] = distance--;
      }
    }
    parent[i] = best;
    if (best !== NONE) {
      stamp[i] = time;
      far[i] = nearest + 1;
      return;
    }
    for (let d = 0; d < 8; d++) {
      const j = neighbours[8 * i + d];
      if (isSink[j] !== isSink[i] || parent[j] === NONE) continue;
      const through = isSink[i] ? room[8 * i + d] : room[8 * j + (d ^ 1)];
      if (through > 0) activate(j);
      if (parent[j] >= 0 && headOf(parent[j]) === i) orphan(j);
    }
  };

  for (let at = 0; at < active.length;) {
    const i = active[at];
    if (parent[i] === NONE) {
      isActive[i] = 0;
      at++;
      continue;
    }
    const middle = grow(i);
    time++;
    if (middle === NONE) {
      isActive[i] = 0;
      at++;
    } else {
      augment(middle);
      for (let k = 0; k < orphans.length; k++) adopt(orphans[k]);
      orphans.length = 0;
    }
    // The queue is read from its front; what was read is dropped now and then.
    if (at > 1 << 16) {
      active.splice(0, at);
      at = 0;
    }
  }
  const labels = new Uint8Array(count);
  for (let i = 0; i < count; i++) labels[i] = parent[i] !== NONE && isSink[i] === 0 ? 1 : 0;
  return labels;
}
