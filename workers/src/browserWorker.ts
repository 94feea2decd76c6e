import * as Comlink from 'comlink';
import {
  drawMask,
  DRAFT_EFFORT,
  FINAL_EFFORT,
  grow,
  reachOfPrescription,
  renderTile,
  type Kernels,
} from '@vitrocept/core';
import { createKernels } from '@vitrocept/kernels';
import { codesOf, spaceOf } from './frameSamples';
import type { WorkerApi } from './protocol';
import { shownPixels } from './shown';

let kernels: Promise<Kernels> | null = null;

const api: WorkerApi = {
  async warmUp(kernelsUrl) {
    kernels ??= fetch(kernelsUrl)
      .then((response) => response.arrayBuffer())
      .then(createKernels);
    await kernels;
  },

  async showTile({ frame, prescription, tile, effort }, stop) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const flag = new Int32Array(stop);
    const space = await spaceOf(frame);
    const piece = await codesOf(frame, grow(tile, reachOfPrescription(prescription)));
    const { codes } = renderTile({ frame, space }, prescription, piece, tile, {
      ...(effort === 'draft' ? DRAFT_EFFORT : FINAL_EFFORT),
      kernels: await kernels,
      shouldStop: () => Atomics.load(flag, 0) === 1,
    });
    const rgba = shownPixels(codes, space, space.description === 'sRGB');
    return Comlink.transfer({ width: tile.width, height: tile.height, rgba }, [rgba.buffer]);
  },

  async drawMask({ operations, region, scale }) {
    const { width, height, data } = drawMask(operations, region, scale);
    const values = new Float32Array(data);
    return Comlink.transfer({ width, height, values }, [values.buffer]);
  },
};

Comlink.expose(api);
