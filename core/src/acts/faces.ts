import type { Face, FacePart, FacePartName, FoundFace } from '../audit/face';
import { MOST_FACES, type Prescription } from '../prescription/prescription';
import type { NewId } from './newId';

const facesOf = (old: Prescription): readonly Face[] => old.faces ?? [];

/** What the model found takes the place of what it found before; faces placed by hand stay. */
export function withFoundFaces(old: Prescription, found: readonly FoundFace[], newId: NewId): Prescription {
  const kept = facesOf(old).filter((face) => !face.isFound);
  const faces = found.map(({ parts, sureness }, i) => ({
    id: newId(),
    name: `face ${i + 1}`,
    isFound: true,
    sureness,
    parts,
  }));
  return { ...old, faces: [...faces, ...kept].slice(0, MOST_FACES) };
}

export function addFace(old: Prescription, id: string): Prescription {
  const faces = facesOf(old);
  if (faces.length >= MOST_FACES) return old;
  return { ...old, faces: [...faces, { id, name: `by hand ${faces.length + 1}`, isFound: false, parts: [] }] };
}

export function removeFace(old: Prescription, id: string): Prescription {
  return { ...old, faces: facesOf(old).filter((face) => face.id !== id) };
}

/** Puts a part of a face there, or moves it. */
export function placePart(old: Prescription, faceId: string, part: FacePart): Prescription {
  return withParts(old, faceId, (parts) => [...parts.filter((other) => other.part !== part.part), part]);
}

export function removePart(old: Prescription, faceId: string, name: FacePartName): Prescription {
  return withParts(old, faceId, (parts) => parts.filter((other) => other.part !== name));
}

function withParts(
  old: Prescription,
  faceId: string,
  act: (parts: readonly FacePart[]) => readonly FacePart[],
): Prescription {
  return {
    ...old,
    faces: facesOf(old).map((face) => (face.id === faceId ? { ...face, parts: act(face.parts) } : face)),
  };
}

/**
 * A face is small when its parts span less than this share of the largest face's, and poor when the model was less
 * sure.
 */
const SMALL = 0.5;
const POOR = 0.6;

/** Faces in the background, and what may be none. */
export function smallOrPoor(faces: readonly Face[]): Face[] {
  const largest = Math.max(0, ...faces.map(spanOf));
  return faces.filter((face) => spanOf(face) < SMALL * largest || (face.sureness ?? 1) < POOR);
}

function spanOf({ parts }: Face): number {
  if (parts.length === 0) return 0;
  return Math.max(...parts.map(({ x, rx }) => x + rx)) - Math.min(...parts.map(({ x, rx }) => x - rx));
}
