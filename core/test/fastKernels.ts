import { readFile } from 'node:fs/promises';
import { createKernels } from '../../kernels/src';

const bytesOf = async (name: string) =>
  new Uint8Array(await readFile(new URL(`../../kernels/wasm/${name}`, import.meta.url)));

/** The WebAssembly kernels, for what takes minutes with their plain twins. */
export const fastKernels = await createKernels(
  await bytesOf('kernels.wasm'),
  (await bytesOf('texture.safetensors')).buffer,
  (await bytesOf('subject.safetensors')).buffer,
);
