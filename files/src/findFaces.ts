import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Human, Input } from '@vladmandic/human';
import { FACE_MODEL, FACES_SIDE, facesOfMeshes, type FoundFace } from '@vitrocept/core';
import type { SampleFile } from './sampleFile';
import { viewPixels } from './viewJpeg';

let loaded: Promise<Human> | null = null;

/** What is used of the library it runs on. */
type Tensors = Pick<typeof import('@tensorflow/tfjs-core'), 'tensor3d' | 'dispose'>;

/** People's faces in a frame, the largest first, each as its parts in px of the upright frame. */
export async function findFaces(file: SampleFile): Promise<FoundFace[]> {
  const { pixels, width, height, channels } = await viewPixels(file, FACES_SIDE);
  loaded ??= load();
  const human = await loaded;
  const colours = channels === 3 ? pixels : grey(pixels, channels);
  const tensors = human.tf as Tensors;
  const picture = tensors.tensor3d(new Int32Array(colours), [height, width, 3], 'int32');
  try {
    const { face, error } = await human.detect(picture as Input);
    if (error) throw new Error(error);
    return facesOfMeshes(face, file.width / width);
  } finally {
    tensors.dispose(picture);
  }
}

/** One channel as three. */
function grey(data: Buffer, channels: number): Uint8Array {
  const three = new Uint8Array((data.length / channels) * 3);
  for (let i = 0; i < three.length; i++) three[i] = data[Math.floor(i / 3) * channels];
  return three;
}

async function load(): Promise<Human> {
  const require = createRequire(import.meta.url);
  // The package's exports name its other builds without the dot that Node asks for: they are reached by their file.
  const builds = dirname(require.resolve('@vladmandic/human'));
  const { Human: Finder } = require(join(builds, 'human.node-wasm.js')) as { Human: typeof Human };
  const wasm = dirname(require.resolve('@tensorflow/tfjs-backend-wasm/package.json'));
  const human = new Finder({
    ...FACE_MODEL,
    wasmPath: join(wasm, 'dist/'),
    modelBasePath: pathToFileURL(join(dirname(builds), 'models/')).href,
  });
  await withFetchOfFiles(async () => {
    await human.init();
    await human.load();
  });
  return human;
}

/** The model asks for its files by `fetch`, which in Node knows no files. */
async function withFetchOfFiles(use: () => Promise<void>): Promise<void> {
  const { fetch } = globalThis;
  globalThis.fetch = async (input, init) => {
    const address = input instanceof Request ? input.url : input.toString();
    if (!address.startsWith('file:')) return fetch(input, init);
    const type = address.endsWith('.json') ? 'application/json' : 'application/octet-stream';
    return new Response(await readFile(new URL(address)), { headers: { 'content-type': type } });
  };
  try {
    await use();
  } finally {
    globalThis.fetch = fetch;
  }
}
