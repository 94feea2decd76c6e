import * as Comlink from 'comlink';
import {
  auditMargin,
  auditTile,
  drawMask,
  DRAFT_EFFORT,
  encodeTile,
  FINAL_EFFORT,
  grow,
  reachOfPrescription,
  solveTile,
  type Kernels,
} from '@vitrocept/core';
import { createKernels } from '@vitrocept/kernels';
import { codesOf, spaceOf } from './frameSamples';
import type { WorkerApi } from './protocol';
import { shownPixels } from './shown';
import { SolvedTiles } from './solvedTiles';

let kernels: Promise<Kernels> | null = null;
const solvedTiles = new SolvedTiles();

const api: WorkerApi = {
  async warmUp(kernelsUrl) {
    kernels ??= fetch(kernelsUrl)
      .then((response) => response.arrayBuffer())
      .then(createKernels);
    await kernels;
  },

  async showTile({ frame, prescription, tile, effort, audits }, stop) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const flag = new Int32Array(stop);
    const space = await spaceOf(frame);
    const source = { frame, space };
    const reach = Math.max(reachOfPrescription(prescription), audits ? auditMargin(prescription) : 0);
    const piece = await codesOf(frame, grow(tile, reach));
    const work = {
      ...(effort === 'draft' ? DRAFT_EFFORT : FINAL_EFFORT),
      kernels: await kernels,
      shouldStop: () => Atomics.load(flag, 0) === 1,
    };
    const solved = solvedTiles.of(frame.id, prescription, tile, effort, () =>
      solveTile(source, prescription, piece, tile, work),
    );
    const { codes } = encodeTile(source, piece, tile, solved);
    const rgba = shownPixels(codes, space, space.description === 'sRGB');
    const audit =
      audits && solved?.recovered ? auditTile(source, prescription, piece, tile, solved, frame.bits, work) : null;
    return Comlink.transfer({ width: tile.width, height: tile.height, rgba, audit }, [rgba.buffer]);
  },

  async drawMask({ operations, region, scale }) {
    const { width, height, data } = drawMask(operations, region, scale);
    const values = new Float32Array(data);
    return Comlink.transfer({ width, height, values }, [values.buffer]);
  },
};

Comlink.expose(api);
