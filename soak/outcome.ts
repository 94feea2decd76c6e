/** How a part of the soak went; every problem with what is needed to see it again. */
export interface Outcome {
  readonly tried: number;
  readonly held: number;
  readonly problems: readonly string[];
}

export class Tally {
  private tried = 0;
  private readonly problems: string[] = [];

  /** One thing that was tried; `problem` is null where it held. */
  add(problem: string | null): void {
    this.tried++;
    if (problem) this.problems.push(problem);
  }

  get outcome(): Outcome {
    return { tried: this.tried, held: this.tried - this.problems.length, problems: this.problems };
  }
}

/** Mulberry32: the same seed, the same run. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}
