import * as Comlink from 'comlink';
import { Human } from '@vladmandic/human';
import { FACE_MODEL, facesOfMeshes, type FoundFace } from '@vitrocept/core';

/** Model and its backend lie beside the page; nothing is asked of any other place. */
const MODELS = '/faces/';

const human = new Human({ ...FACE_MODEL, wasmPath: MODELS, modelBasePath: MODELS });

// Its threads are started from blobs, which a page of ours may not load.
(human.tf as { env(): { set(flag: string, value: boolean): void } }).env().set('WASM_HAS_MULTITHREAD_SUPPORT', false);

export interface FaceFinderApi {
  /** Faces in a picture, the largest first; each as its parts in px of the frame, so many of which make a px of it. */
  find(picture: ImageBitmap, scale: number): Promise<FoundFace[]>;
}

const api: FaceFinderApi = {
  async find(picture, scale) {
    const canvas = new OffscreenCanvas(picture.width, picture.height);
    canvas.getContext('2d')!.drawImage(picture, 0, 0);
    const { face, error } = await human.detect(canvas);
    if (error) throw new Error(error);
    return facesOfMeshes(face, scale);
  },
};

Comlink.expose(api);
