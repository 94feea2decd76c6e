import {
  TilePool,
  type AreaJob,
  type SafestJob,
  type ColourJob,
  type FacePartJob,
  type MaskJob,
  type ProposeJob,
  type ShownTile,
  type WantedTile,
  type WorkerFrame,
} from '@vitrocept/workers';
import type { CleaningCheck, TileAudit } from '@vitrocept/core';
import binary from '@vitrocept/kernels/wasm/kernels.wasm?url';
import texture from '@vitrocept/kernels/wasm/texture.safetensors?url';
import subject from '@vitrocept/kernels/wasm/subject.safetensors?url';

/** 4 bytes each; what somebody still shows is kept beyond. */
const MOST_PIXELS = 70e6;

/** Computed tiles as pictures, and who on the page wants which. Pixels stay here, never in a store. */
class TileEngine {
  private readonly pictures = new Map<string, HTMLCanvasElement>();
  private readonly audits = new Map<string, TileAudit>();
  private readonly checks = new Map<string, CleaningCheck>();
  private readonly failures = new Map<string, string>();
  private readonly wholes = new Map<string, number>();
  private readonly owners = new Map<string, readonly WantedTile[]>();
  private readonly listeners = new Set<() => void>();
  private pixels = 0;
  private version = 0;
  private isPlanning = false;
  private readonly pool = new TilePool(
    () => new Worker(new URL('./tileWorker.ts', import.meta.url), { type: 'module' }),
    { binary, texture, subject },
    (key, tile) => this.keep(key, tile),
    (key, sentence) => {
      this.failures.set(key, sentence);
      this.tell();
    },
    Math.min(4, Math.max(1, navigator.hardwareConcurrency || 2)),
  );

  /** What one cell needs now; replaces what it needed before. */
  want(owner: string, tiles: readonly WantedTile[]): void {
    this.owners.set(owner, tiles);
    this.plan();
  }

  forget(owner: string): void {
    this.owners.delete(owner);
    this.plan();
  }

  pictureOf(key: string): HTMLCanvasElement | null {
    const picture = this.pictures.get(key);
    if (!picture) return null;
    this.pictures.delete(key);
    this.pictures.set(key, picture);
    return picture;
  }

  isDone(key: string): boolean {
    return this.pictures.has(key);
  }

  auditOf(key: string): TileAudit | null {
    return this.audits.get(key) ?? null;
  }

  checkOf(key: string): CleaningCheck | null {
    return this.checks.get(key) ?? null;
  }

  failureOf(key: string): string | null {
    return this.failures.get(key) ?? null;
  }

  /** Seconds that a render of a badly soft trial would take; null before a cell of it is solved. */
  secondsForWhole(trialId: string): number | null {
    return this.wholes.get(trialId) ?? null;
  }

  retry(): void {
    this.failures.clear();
    this.pool.want([]);
    this.plan();
  }

  drawMask(job: MaskJob) {
    return this.pool.drawMask(job);
  }

  proposeProbes(job: ProposeJob) {
    return this.pool.proposeProbes(job);
  }

  makeArea(job: AreaJob) {
    return this.pool.makeArea(job);
  }

  lookAhead(frame: WorkerFrame) {
    return this.pool.lookAhead(frame);
  }

  pickColour(job: ColourJob) {
    return this.pool.pickColour(job);
  }

  strongestSafe(job: SafestJob) {
    return this.pool.strongestSafe(job);
  }

  judgeFacePart(job: FacePartJob) {
    return this.pool.judgeFacePart(job);
  }

  /** Light, colour and finishing of whole pictures. */
  get light() {
    return this.pool.light;
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  getVersion = () => this.version;

  private keep(key: string, { width, height, rgba, audit, check, whole }: ShownTile): void {
    const canvas = document.createElement('canvas');
    canvas.width = width;
    canvas.height = height;
    canvas.getContext('2d')!.putImageData(new ImageData(rgba, width, height), 0, 0);
    this.pictures.set(key, canvas);
    if (audit) this.audits.set(key, audit);
    if (check) this.checks.set(key, check);
    if (whole) this.wholes.set(whole.trialId, whole.seconds);
    this.pixels += width * height;
    if (this.pixels > MOST_PIXELS) this.forgetOldest();
    this.tell();
  }

  private forgetOldest(): void {
    const shown = new Set([...this.owners.values()].flatMap((tiles) => tiles.map(({ key }) => key)));
    for (const [old, picture] of this.pictures) {
      if (this.pixels <= MOST_PIXELS) break;
      if (shown.has(old)) continue;
      this.pixels -= picture.width * picture.height;
      this.pictures.delete(old);
      this.audits.delete(old);
      this.checks.delete(old);
    }
  }

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }

  /** Once per turn: many cells change together. */
  private plan(): void {
    if (this.isPlanning) return;
    this.isPlanning = true;
    queueMicrotask(() => {
      this.isPlanning = false;
      const missing = new Map<string, WantedTile>();
      for (const tile of [...this.owners.values()].flat()) {
        const known = missing.get(tile.key);
        if (!this.pictures.has(tile.key) && (!known || known.rank > tile.rank)) missing.set(tile.key, tile);
      }
      this.pool.want([...missing.values()]);
    });
  }
}

export const tileEngine = new TileEngine();
