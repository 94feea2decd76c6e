/**
 * A map that keeps what was asked for last: the longest unused goes first once all weigh more than `most`.
 *
 * @param weightOf - 1 each where it is left out.
 */
export class LastUsed<K, V> {
  private readonly values = new Map<K, V>();
  private weight = 0;

  constructor(
    private readonly most: number,
    private readonly weightOf: (value: V) => number = () => 1,
  ) {}

  get(key: K): V | undefined {
    const found = this.values.get(key);
    if (found === undefined) return undefined;
    this.values.delete(key);
    this.values.set(key, found);
    return found;
  }

  set(key: K, value: V): void {
    this.delete(key);
    this.values.set(key, value);
    this.weight += this.weightOf(value);
    for (const oldest of this.values.keys()) {
      if (this.weight <= this.most) return;
      this.delete(oldest);
    }
  }

  delete(key: K): void {
    const value = this.values.get(key);
    if (value === undefined) return;
    this.values.delete(key);
    this.weight -= this.weightOf(value);
  }

  /** What is kept, or what `make` gives now. */
  of(key: K, make: () => V): V {
    const found = this.get(key);
    if (found !== undefined) return found;
    const made = make();
    this.set(key, made);
    return made;
  }
}
