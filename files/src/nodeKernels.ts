import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { createKernels } from '@vitrocept/kernels';
import type { Kernels } from '@vitrocept/core';

let loaded: Promise<Kernels> | null = null;

/** The WebAssembly kernels of this thread. */
export function nodeKernels(): Promise<Kernels> {
  loaded ??= readFile(createRequire(import.meta.url).resolve('@vitrocept/kernels/wasm/kernels.wasm')).then((bytes) =>
    createKernels(new Uint8Array(bytes)),
  );
  return loaded;
}
