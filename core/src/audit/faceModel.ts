import type { FoundFace } from './face';
import { partsOfMesh } from './partsOfMesh';

/**
 * How the model that finds people's faces is set, in the page and on the server alike. Without this much of what is
 * left out it would look for bodies, hands and ages too, and its answers would hang on the picture before.
 */
export const FACE_MODEL = {
  backend: 'wasm',
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
} as const;

/** Long side of the picture that is searched; smaller faces than about a twentieth of it are not found. */
export const FACES_SIDE = 1600;

interface MeshFace {
  readonly box: readonly [number, number, number, number];
  readonly score: number;
  readonly annotations: Parameters<typeof partsOfMesh>[0];
}

/**
 * Faces as the model tells them, the largest first, each as its parts in px of the frame.
 *
 * @param scale - Px of the frame in a px of the picture that was searched.
 */
export function facesOfMeshes(meshes: readonly MeshFace[], scale: number): FoundFace[] {
  const tenths = (value: number) => Math.round(10 * value * scale) / 10;
  return [...meshes]
    .sort((p, q) => q.box[2] * q.box[3] - p.box[2] * p.box[3])
    .map(({ annotations, score }) => ({
      sureness: Math.round(100 * Math.min(1, Math.max(0, score))) / 100,
      parts: partsOfMesh(annotations).map(({ part, x, y, rx, ry }) => ({
        part,
        x: tenths(x),
        y: tenths(y),
        rx: tenths(rx),
        ry: tenths(ry),
      })),
    }))
    .filter(({ parts }) => parts.length > 0);
}
