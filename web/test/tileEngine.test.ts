// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { WantedTile } from '@vitrocept/workers';

interface Shown {
  width: number;
  height: number;
  rgba: Uint8ClampedArray;
  audit?: unknown;
}

/** The workers as the engine sees them: what they are asked for, and how they answer. */
const pool = vi.hoisted(() => ({
  wanted: [] as { key: string; rank: number }[],
  arrived: null as unknown as (key: string, tile: Shown) => void,
  failed: null as unknown as (key: string, sentence: string) => void,
}));

vi.mock('@vitrocept/workers', () => ({
  TilePool: class {
    constructor(_: unknown, __: unknown, arrived: typeof pool.arrived, failed: typeof pool.failed) {
      pool.arrived = arrived;
      pool.failed = failed;
    }
    want(tiles: { key: string; rank: number }[]) {
      pool.wanted = tiles;
    }
  },
}));
vi.mock('@vitrocept/kernels/wasm/kernels.wasm?url', () => ({ default: 'kernels.wasm' }));
vi.mock('@vitrocept/kernels/wasm/texture.safetensors?url', () => ({ default: 'texture.safetensors' }));
vi.mock('@vitrocept/kernels/wasm/subject.safetensors?url', () => ({ default: 'subject.safetensors' }));
vi.stubGlobal('ImageData', class {});
HTMLCanvasElement.prototype.getContext = vi.fn(() => ({ putImageData: vi.fn() })) as never;

const { tileEngine } = await import('../src/surfaces/tileEngine');

const tile = (key: string, rank = 0) => ({ key, rank }) as unknown as WantedTile;
const pixels = (side = 8, more: Partial<Shown> = {}): Shown => ({
  width: side,
  height: side,
  rgba: new Uint8ClampedArray(4),
  ...more,
});
const asked = () => pool.wanted.map(({ key, rank }) => `${key} ${rank}`).sort();
/** Wishes of one turn go out together. */
const turn = () => new Promise<void>((resolve) => setTimeout(resolve));

describe('computed tiles', () => {
  beforeEach(async () => {
    for (const owner of ['a', 'b']) tileEngine.forget(owner);
    await turn();
  });

  it('are asked for once, for whoever wants them most, as long as somebody does', async () => {
    tileEngine.want('a', [tile('one', 5), tile('two', 9)]);
    tileEngine.want('b', [tile('two', 3)]);
    await turn();
    expect(asked()).toEqual(['one 5', 'two 3']);
    tileEngine.forget('a');
    await turn();
    expect(asked()).toEqual(['two 3']);
    tileEngine.forget('b');
    await turn();
    expect(asked()).toEqual([]);
  });

  it('that are there are not asked for again; listeners are told when pixels come', async () => {
    const told = vi.fn();
    const leave = tileEngine.subscribe(told);
    tileEngine.want('a', [tile('three'), tile('four')]);
    await turn();
    const before = tileEngine.getVersion();
    pool.arrived('three', pixels(8, { audit: { figures: 1 } }));
    expect(told).toHaveBeenCalledOnce();
    expect(tileEngine.getVersion()).toBe(before + 1);
    expect(tileEngine.isDone('three')).toBe(true);
    expect(tileEngine.auditOf('three')).toEqual({ figures: 1 });
    expect(tileEngine.auditOf('four')).toBeNull();
    tileEngine.want('b', [tile('three'), tile('four')]);
    await turn();
    expect(asked()).toEqual(['four 0']);
    leave();
    pool.arrived('four', pixels());
    expect(told).toHaveBeenCalledOnce();
  });

  it('that failed say why, and are asked for anew on trying again', async () => {
    tileEngine.want('a', [tile('five')]);
    await turn();
    pool.failed('five', 'Out of memory.');
    expect(tileEngine.failureOf('five')).toBe('Out of memory.');
    expect(tileEngine.isDone('five')).toBe(false);
    tileEngine.retry();
    expect(tileEngine.failureOf('five')).toBeNull();
    await turn();
    expect(asked()).toEqual(['five 0']);
  });

  it('are given up when there are too many, the longest unseen first; what is shown stays', async () => {
    tileEngine.want('a', [tile('shown')]);
    await turn();
    pool.arrived('shown', pixels(2000));
    for (let i = 0; i < 20; i++) pool.arrived(`old ${i}`, pixels(2000));
    // 21 × 4 million px are more than the 70 that are kept.
    expect(tileEngine.isDone('shown')).toBe(true);
    expect(tileEngine.isDone('old 0')).toBe(false);
    expect(tileEngine.isDone('old 19')).toBe(true);
  });
});
