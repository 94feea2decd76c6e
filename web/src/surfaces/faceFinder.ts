import * as Comlink from 'comlink';
import type { FoundFace, Size } from '@vitrocept/core';
import type { FaceFinderApi } from './faceWorker';

/** Long side of the picture that is searched; smaller faces than about a twentieth of it are not found. */
const SEARCHED_SIDE = 1600;

let finder: Comlink.Remote<FaceFinderApi> | null = null;

/** People's faces in a frame, each as its parts in px of the frame. The model is loaded at the first call. */
export async function findFaces(frame: Size & { readonly id: string }): Promise<FoundFace[]> {
  finder ??= Comlink.wrap<FaceFinderApi>(new Worker(new URL('./faceWorker.ts', import.meta.url), { type: 'module' }));
  const response = await fetch(`/api/frames/${frame.id}/view.jpg?side=${SEARCHED_SIDE}`);
  if (!response.ok) throw new Error(`The server answered ${response.status} for the frame's view.`);
  const picture = await createImageBitmap(await response.blob());
  const scale = frame.width / picture.width;
  const faces = await finder.find(Comlink.transfer(picture, [picture]));
  return faces.map(({ parts, sureness }) => ({
    sureness: Math.round(100 * sureness) / 100,
    parts: parts.map(({ part, x, y, rx, ry }) => ({
      part,
      x: Math.round(10 * (x * scale)) / 10,
      y: Math.round(10 * (y * scale)) / 10,
      rx: Math.round(10 * (rx * scale)) / 10,
      ry: Math.round(10 * (ry * scale)) / 10,
    })),
  }));
}
