const BUCKET = 0.01;

/**
 * How much has to be crossed to get to every sample from the nearest seed: the sum of changes of the features along the
 * best way, less what changes slowly. Flat and blurred places cost nearly nothing, sharp edges do.
 *
 * @param features - Interleaved, `stride` a sample; the first three count.
 * @param seeds - Not 0 where ways begin.
 * @param stepCost - Price of a step beside what changes on the way: of two level ways the shorter wins.
 * @param freeTimes - Changes up to so many times the usual one are free: out of focus everything changes slowly,
 * whatever
 *   it is, and grain is no border.
 * @param most - Where nothing nearer leads this is given.
 * Source: Dijkstra 1959; as a cue for subjects: Wei, Wen, Zhu, Sun, "Geodesic saliency using background priors", ECCV
 * 2012.
 */
export function geodesicDistance(
  features: Float32Array,
  stride: number,
  width: number,
  seeds: Uint8Array,
  most: number,
  stepCost = 0.004,
  freeTimes = 7,
): Float32Array {
  const slow = freeTimes * usualChange(features, stride, width);
  const distance = new Float32Array(seeds.length).fill(most);
  const buckets: number[][] = Array.from({ length: Math.ceil(most / BUCKET) + 1 }, () => []);
  for (let i = 0; i < seeds.length; i++) {
    if (seeds[i] === 0) continue;
    distance[i] = 0;
    buckets[0].push(i);
  }
  const height = seeds.length / width;
  for (let level = 0; level < buckets.length; level++) {
    const bucket = buckets[level];
    for (let k = 0; k < bucket.length; k++) {
      const i = bucket[k];
      if (Math.floor(distance[i] / BUCKET) !== level) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const [u, v] = [x + dx, y + dy];
          if ((dx === 0 && dy === 0) || u < 0 || v < 0 || u >= width || v >= height) continue;
          const j = v * width + u;
          let squared = 0;
          for (let f = 0; f < 3; f++) squared += (features[stride * i + f] - features[stride * j + f]) ** 2;
          const length = dx !== 0 && dy !== 0 ? Math.SQRT2 : 1;
          const there = Math.fround(distance[i] + stepCost * length + Math.max(0, Math.sqrt(squared) - slow * length));
          if (there >= distance[j]) continue;
          distance[j] = there;
          buckets[Math.floor(there / BUCKET)].push(j);
        }
      }
    }
  }
  return distance;
}

/** Median change from a sample to the next. */
function usualChange(features: Float32Array, stride: number, width: number): number {
  const changes: number[] = [];
  for (let i = width; i + width < features.length / stride; i += 7) {
    let squared = 0;
    for (let f = 0; f < 3; f++) squared += (features[stride * i + f] - features[stride * (i + 1) + f]) ** 2;
    changes.push(Math.sqrt(squared));
  }
  changes.sort((p, q) => p - q);
  return changes[changes.length >> 1] ?? 0;
}
