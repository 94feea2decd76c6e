import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { createKernels } from '@vitrocept/kernels';
import type { Kernels } from '@vitrocept/core';

let loaded: Promise<Kernels> | null = null;

/** The WebAssembly kernels of this thread. */
export function nodeKernels(): Promise<Kernels> {
  loaded ??= Promise.all(['kernels.wasm', 'texture.safetensors', 'subject.safetensors'].map(bytesOf)).then(
    ([binary, texture, subject]) => createKernels(binary, texture.buffer, subject.buffer),
  );
  return loaded;
}

async function bytesOf(name: string): Promise<Uint8Array<ArrayBuffer>> {
  return new Uint8Array(await readFile(createRequire(import.meta.url).resolve(`@vitrocept/kernels/wasm/${name}`)));
}
