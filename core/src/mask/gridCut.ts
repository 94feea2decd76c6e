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

/**
 * Minimum cut of a grid whose samples hang on source and sink and on their eight neighbours.
 *
 * @param pull - Per sample: how much dearer it is to cut it from the source than from the sink; below 0 the other way.
 * @param weightOf - Cost of cutting a sample from its neighbour in direction d (the same both ways), at least 0.
 * @returns 1 on the source's side.
 * Source: Boykov & Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in
 * vision", IEEE TPAMI 26 (2004).
 */
export function gridCut(
  width: number,
  height: number,
  pull: Float32Array,
  weightOf: (index: number, neighbour: number, isDiagonal: boolean) => number,
): Uint8Array {
  const count = width * height;
  const offsets = STEPS.map(([dx, dy]) => dy * width + dx);
  /** What still fits through each arc; 8 a sample. */
  const room = new Float32Array(8 * count);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      for (let d = 0; d < 8; d += 2) {
        const [u, v] = [x + STEPS[d][0], y + STEPS[d][1]];
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const j = v * width + u;
        const weight = weightOf(i, j, d >= 4);
        room[8 * i + d] = weight;
        room[8 * j + d + 1] = weight;
      }
    }
  }
  const left = Float32Array.from(pull);
  /** The arc that leads towards the root of a sample's tree. */
  const parent = new Int32Array(count).fill(NONE);
  const isSink = new Uint8Array(count);
  const stamp = new Int32Array(count);
  const far = new Int32Array(count);
  const active: number[] = [];
  const isActive = new Uint8Array(count);
  const orphans: number[] = [];
  let time = 0;
  const headOf = (arc: number) => (arc >> 3) + offsets[arc & 7];
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
    for (let d = 0; d < 8; d++) {
      const arc = 8 * i + d;
      // Arcs out of the frame have no room either way.
      const sink = isSink[i] === 1;
      if (!sink && room[arc] <= 0) continue;
      if (sink && !hasNeighbour(i, d)) continue;
      const j = i + offsets[d];
      if (sink && room[8 * j + (d ^ 1)] <= 0) continue;
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
  const hasNeighbour = (i: number, d: number): boolean => {
    const x = (i % width) + STEPS[d][0];
    const y = Math.floor(i / width) + STEPS[d][1];
    return x >= 0 && y >= 0 && x < width && y < height;
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
      if (!hasNeighbour(i, d)) continue;
      const j = i + offsets[d];
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
      if (!hasNeighbour(i, d)) continue;
      const j = i + offsets[d];
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
  return Uint8Array.from(parent, (arc, i) => (arc !== NONE && isSink[i] === 0 ? 1 : 0));
}
