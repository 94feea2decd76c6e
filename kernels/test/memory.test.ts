import { describe, expect, it } from 'vitest';
import { KernelMemory } from '../src/memory';

const PAGE = 65536;

describe('room in the module’s memory', () => {
  const fresh = () => {
    const memory = new WebAssembly.Memory({ initial: 1 });
    return { memory, room: new KernelMemory(memory) };
  };

  it('begins above the module’s own constants, aligned to 16 bytes, never twice the same', () => {
    const { room } = fresh();
    const places = [1, 16, 17, 4000, 3].map((bytes) => ({ bytes, at: room.take(bytes) }));
    expect(places[0].at).toBeGreaterThanOrEqual(PAGE);
    for (const [i, { at }] of places.entries()) {
      expect(at % 16).toBe(0);
      if (i > 0) expect(at).toBeGreaterThanOrEqual(places[i - 1].at + places[i - 1].bytes);
    }
  });

  it('grows the memory as far as is needed, and only so far', () => {
    const { memory, room } = fresh();
    const at = room.take(3 * PAGE + 5);
    expect(memory.buffer.byteLength).toBeGreaterThanOrEqual(at + 3 * PAGE + 5);
    expect(memory.buffer.byteLength).toBeLessThan(at + 4 * PAGE + 16);
    room.reset();
    const before = memory.buffer.byteLength;
    expect(room.take(2 * PAGE)).toBe(at);
    expect(memory.buffer.byteLength).toBe(before);
  });

  it('gives back what was placed, also after the memory grew in between', () => {
    const { room } = fresh();
    const first = room.place([1.5, -2, 3]);
    const second = room.place(new Float32Array(40_000).fill(7));
    expect([...room.floats(first, 3)]).toEqual([1.5, -2, 3]);
    expect(room.floats(second, 40_000)[39_999]).toBe(7);
    room.words(first, 1)[0] = -5;
    expect(room.words(first, 1)[0]).toBe(-5);
  });
});
