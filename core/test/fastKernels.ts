import { readFile } from 'node:fs/promises';
import { createKernels } from '../../kernels/src';

/** The WebAssembly kernels, for what takes minutes with their plain twins. */
export const fastKernels = await createKernels(
  new Uint8Array(await readFile(new URL('../../kernels/wasm/kernels.wasm', import.meta.url))),
);
