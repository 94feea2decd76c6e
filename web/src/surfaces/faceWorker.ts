import * as Comlink from 'comlink';
import { Human } from '@vladmandic/human';
import type { FoundFace } from '@vitrocept/core';
import { partsOfMesh } from './partsOfMesh';

/** Model and its backend lie beside the page; nothing is asked of any other place. */
const MODELS = '/faces/';

const human = new Human({
  backend: 'wasm',
  wasmPath: MODELS,
  modelBasePath: MODELS,
  // Otherwise an earlier picture's faces come back.
  cacheSensitivity: 0,
  warmup: 'none',
  debug: false,
  filter: { enabled: false },
  gesture: { enabled: false },
  body: { enabled: false },
  hand: { enabled: false },
  object: { enabled: false },
  face: {
    enabled: true,
    detector: {
      modelPath: 'blazeface.json',
      rotation: true,
      maxDetected: 20,
      minConfidence: 0.3,
      skipFrames: 0,
      skipTime: 0,
    },
    mesh: { enabled: true, modelPath: 'facemesh.json' },
    iris: { enabled: true, modelPath: 'iris.json' },
    attention: { enabled: false },
    description: { enabled: false },
    emotion: { enabled: false },
    antispoof: { enabled: false },
    liveness: { enabled: false },
  },
});

// Its threads are started from blobs, which a page of ours may not load.
(human.tf as { env(): { set(flag: string, value: boolean): void } }).env().set('WASM_HAS_MULTITHREAD_SUPPORT', false);

export interface FaceFinderApi {
  /** Faces in a picture, the largest first; each as its parts in px of the picture. */
  find(picture: ImageBitmap): Promise<FoundFace[]>;
}

const api: FaceFinderApi = {
  async find(picture) {
    const canvas = new OffscreenCanvas(picture.width, picture.height);
    canvas.getContext('2d')!.drawImage(picture, 0, 0);
    const { face, error } = await human.detect(canvas);
    if (error) throw new Error(error);
    return face
      .sort((p, q) => q.box[2] * q.box[3] - p.box[2] * p.box[3])
      .map(({ annotations, score }) => ({ parts: partsOfMesh(annotations), sureness: Math.min(1, Math.max(0, score)) }))
      .filter(({ parts }) => parts.length > 0);
  },
};

Comlink.expose(api);
