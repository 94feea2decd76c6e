import * as Comlink from 'comlink';
import { FACES_SIDE, type FoundFace, type Size } from '@vitrocept/core';
import type { FaceFinderApi } from './faceWorker';

let finder: Comlink.Remote<FaceFinderApi> | null = null;

/** People's faces in a frame, each as its parts in px of the frame. The model is loaded at the first call. */
export async function findFaces(frame: Size & { readonly id: string }): Promise<FoundFace[]> {
  finder ??= Comlink.wrap<FaceFinderApi>(new Worker(new URL('./faceWorker.ts', import.meta.url), { type: 'module' }));
  const response = await fetch(`/api/frames/${frame.id}/view.jpg?side=${FACES_SIDE}`);
  if (!response.ok) throw new Error(`The server answered ${response.status} for the frame's view.`);
  const picture = await createImageBitmap(await response.blob());
  return finder.find(Comlink.transfer(picture, [picture]), frame.width / picture.width);
}
