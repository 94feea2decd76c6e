/**
 * A short key of plain data: equal data, equal key; different data, different key but for one chance in 2⁵³.
 * Mixing after the well-known “cyrb53” function (public domain). Not for security.
 */
export function contentKey(value: unknown): string {
  const text = JSON.stringify(value);
  const mixed = new Mixed();
  for (let i = 0; i < text.length; i++) mixed.take(text.charCodeAt(i));
  return mixed.key();
}

/** The same of samples: their bits, and how many there are. Null is nothing. */
export function keyOfSamples(arrays: readonly (Float32Array | Uint8Array | null)[]): string {
  const mixed = new Mixed();
  for (const array of arrays) {
    mixed.take(array ? array.length : -1);
    if (!array) continue;
    const words = array instanceof Float32Array ? new Uint32Array(array.buffer, array.byteOffset, array.length) : array;
    mixed.takeAll(words);
  }
  return mixed.key();
}

class Mixed {
  private high = 0xdeadbeef | 0;
  private low = 0x41c6ce57;

  take(word: number): void {
    this.high = Math.imul(this.high ^ word, 2654435761);
    this.low = Math.imul(this.low ^ word, 1597334677);
  }

  /** Every second word on its own, which lets the processor mix both at once. */
  takeAll(words: Uint32Array | Uint8Array): void {
    let { high, low } = this;
    let [otherHigh, otherLow] = [low, high];
    const even = words.length - (words.length % 2);
    for (let i = 0; i < even; i += 2) {
      high = Math.imul(high ^ words[i], 2654435761);
      low = Math.imul(low ^ words[i], 1597334677);
      otherHigh = Math.imul(otherHigh ^ words[i + 1], 2654435761);
      otherLow = Math.imul(otherLow ^ words[i + 1], 1597334677);
    }
    [this.high, this.low] = [high, low];
    this.take(otherHigh ^ (otherHigh >>> 15));
    this.take(otherLow ^ (otherLow >>> 15));
    if (even < words.length) this.take(words[even]);
  }

  key(): string {
    const high =
      Math.imul(this.high ^ (this.high >>> 16), 2246822507) ^ Math.imul(this.low ^ (this.low >>> 13), 3266489909);
    const low = Math.imul(this.low ^ (this.low >>> 16), 2246822507) ^ Math.imul(high ^ (high >>> 13), 3266489909);
    return (4294967296 * (2097151 & low) + (high >>> 0)).toString(36);
  }
}
