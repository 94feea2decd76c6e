import * as Comlink from 'comlink';
import { afterEach, describe, expect, it } from 'vitest';
import { emptyPrescription } from '@vitrocept/core';
import { TilePool, type ShownTile, type TileJob, type WantedTile, type WorkerApi } from '../src';

const frame = { id: 'f', width: 1000, height: 800, channels: 3, bits: 8 } as const;
const job = (x: number): TileJob => ({
  frame,
  prescription: emptyPrescription(),
  tile: { x, y: 0, width: 2, height: 1 },
  effort: 'final',
  audits: false,
});
const want = (key: string, rank: number): WantedTile => ({ key, rank, job: job(Number(key)) });

/** What the stand-in workers were asked, and how they answer. */
const asked: { x: number; by: StandIn; stop: Int32Array; answer(): void; fail(message: string): void }[] = [];
const ports: MessagePort[] = [];

/** A stand-in for a browser worker: the same messages over a channel, answered when the test says so. */
class StandIn extends EventTarget {
  private readonly port: MessagePort;
  isTerminated = false;

  constructor() {
    super();
    const { port1, port2 } = new MessageChannel();
    this.port = port1;
    ports.push(port1, port2);
    /** What the pool itself asks for; the rest only passes through. */
    const api: Pick<WorkerApi, 'warmUp' | 'drawMask' | 'showTile'> = {
      warmUp: () => Promise.resolve(),
      drawMask: ({ region }) =>
        Promise.resolve({ width: region.width, height: region.height, values: new Float32Array(1) }),
      showTile: ({ tile }, stop) =>
        new Promise((resolve, reject) => {
          asked.push({
            x: tile.x,
            by: this,
            stop: new Int32Array(stop),
            answer: () =>
              resolve({
                width: 2,
                height: 1,
                rgba: new Uint8ClampedArray([tile.x, 0, 0, 255, 0, 0, 0, 255]),
                audit: null,
                check: null,
              }),
            fail: (message) => reject(new Error(message)),
          });
        }),
    };
    Comlink.expose(api, port2 as unknown as Comlink.Endpoint);
    port1.start();
  }

  postMessage(message: unknown, transfer: Transferable[] = []): void {
    this.port.postMessage(message, transfer as never);
  }

  override addEventListener(type: string, listener: EventListener): void {
    if (type === 'message') this.port.addEventListener(type, listener);
    else super.addEventListener(type, listener);
  }

  override removeEventListener(type: string, listener: EventListener): void {
    if (type === 'message') this.port.removeEventListener(type, listener);
    else super.removeEventListener(type, listener);
  }

  terminate(): void {
    this.isTerminated = true;
  }
}

function openPool(count: number) {
  const workers: StandIn[] = [];
  const tiles: [string, ShownTile][] = [];
  const failures: [string, string][] = [];
  const pool = new TilePool(
    () => {
      const worker = new StandIn();
      workers.push(worker);
      return worker as unknown as Worker;
    },
    { binary: '/kernels.wasm', texture: '/texture.safetensors', subject: '/subject.safetensors' },
    (key, tile) => tiles.push([key, tile]),
    (key, sentence) => failures.push([key, sentence]),
    count,
  );
  return { pool, workers, tiles, failures };
}

const places = () => asked.map(({ x }) => x);

afterEach(() => {
  asked.length = 0;
  for (const port of ports.splice(0)) port.close();
});

describe('TilePool', () => {
  it('computes by rank, as many at once as there are workers', async () => {
    const { pool, tiles } = openPool(2);
    pool.want([want('30', 3), want('10', 1), want('20', 2)]);
    await expect.poll(places).toEqual([10, 20]);
    asked[0].answer();
    await expect.poll(places).toEqual([10, 20, 30]);
    asked[2].answer();
    asked[1].answer();
    await expect.poll(() => tiles.map(([key]) => key).sort()).toEqual(['10', '20', '30']);
    expect(tiles[0][1].rgba[0]).toBe(10);
  });

  it('stops what is no longer wanted and never shows its result', async () => {
    const { pool, tiles } = openPool(1);
    pool.want([want('1', 1)]);
    await expect.poll(places).toEqual([1]);
    pool.want([want('2', 1)]);
    expect(Atomics.load(asked[0].stop, 0)).toBe(1);
    asked[0].answer();
    await expect.poll(places).toEqual([1, 2]);
    asked[1].answer();
    await expect.poll(() => tiles.map(([key]) => key)).toEqual(['2']);
  });

  it('does not start again what is already in work', async () => {
    const { pool, tiles } = openPool(2);
    pool.want([want('1', 1)]);
    await expect.poll(places).toEqual([1]);
    pool.want([want('1', 1), want('2', 2)]);
    await expect.poll(places).toEqual([1, 2]);
    expect(Atomics.load(asked[0].stop, 0)).toBe(0);
    asked[0].answer();
    asked[1].answer();
    await expect.poll(() => tiles.length).toBe(2);
  });

  it('reports a failure once and goes on; asked for anew, it tries again', async () => {
    const { pool, failures, tiles } = openPool(1);
    pool.want([want('1', 1), want('2', 2)]);
    await expect.poll(places).toEqual([1]);
    asked[0].fail('No samples.');
    await expect.poll(places).toEqual([1, 2]);
    expect(failures).toEqual([['1', 'No samples.']]);
    asked[1].answer();
    await expect.poll(() => tiles.length).toBe(1);
    pool.want([]);
    pool.want([want('1', 1)]);
    await expect.poll(places).toEqual([1, 2, 1]);
  });

  it('replaces a worker that dies; its tile is reported, the others are computed', async () => {
    const { pool, workers, failures, tiles } = openPool(1);
    pool.want([want('1', 1), want('2', 2)]);
    await expect.poll(places).toEqual([1]);
    workers[0].dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
    expect(workers[0].isTerminated).toBe(true);
    expect(failures).toEqual([['1', 'out of memory']]);
    await expect.poll(places).toEqual([1, 2]);
    asked[1].answer();
    await expect.poll(() => tiles.map(([key]) => key)).toEqual(['2']);
  });

  it('gives a worker the places it knows, the most urgent first', async () => {
    const { pool } = openPool(2);
    const again = (x: number, rank: number): WantedTile => ({ key: `${x} changed`, rank, job: job(x) });
    pool.want([want('1', 1), want('2', 2)]);
    await expect.poll(places).toEqual([1, 2]);
    const [first, second] = asked.map(({ by }) => by);
    expect(first).not.toBe(second);
    for (const { answer } of asked) answer();
    // The other way round, and a place that nobody knows, later on.
    pool.want([again(2, 1001), again(1, 1002), want('3', 2000)]);
    await expect.poll(() => asked.length).toBe(4);
    const byPlace = () => asked.slice(2).map(({ x, by }) => [x, by === first ? 'first' : 'second']);
    expect(byPlace().sort()).toEqual([
      [1, 'first'],
      [2, 'second'],
    ]);
    asked[2].answer();
    await expect.poll(places).toHaveLength(5);
    expect(places()[4]).toBe(3);
    pool.want([]);
  });

  it('draws masks too', async () => {
    const { pool } = openPool(1);
    const drawn = await pool.drawMask({ operations: [], region: { x: 0, y: 0, width: 7, height: 5 }, scale: 1 });
    expect(drawn).toMatchObject({ width: 7, height: 5 });
  });
});
