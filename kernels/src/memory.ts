const PAGE_BYTES = 65536;
/** The module's own constants lie below this address. */
const FIRST_FREE = 65536;

/** Hands out 16-byte-aligned room in the module's memory, all of it taken back at once before the next call. */
export class KernelMemory {
  private next = FIRST_FREE;

  constructor(private readonly memory: WebAssembly.Memory) {}

  reset(): void {
    this.next = FIRST_FREE;
  }

  take(bytes: number): number {
    const at = this.next;
    this.next += Math.ceil(bytes / 16) * 16;
    const missing = this.next - this.memory.buffer.byteLength;
    if (missing > 0) this.memory.grow(Math.ceil(missing / PAGE_BYTES));
    return at;
  }

  /** Only good until the next `take`: growing the memory detaches earlier views. */
  floats(at: number, count: number): Float32Array {
    return new Float32Array(this.memory.buffer, at, count);
  }

  words(at: number, count: number): Int32Array {
    return new Int32Array(this.memory.buffer, at, count);
  }

  codes(at: number, count: number): Uint16Array {
    return new Uint16Array(this.memory.buffer, at, count);
  }

  place(values: ArrayLike<number>): number {
    const at = this.take(values.length * 4);
    this.floats(at, values.length).set(values);
    return at;
  }
}
