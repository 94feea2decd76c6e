import { useEffect, useState } from 'react';
import { contentKey, regionOfPart, type Face, type FacePart, type PartLikeness, type Region } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from '../surfaces/tileEngine';
import { layer, type Column, type Layered } from '../surfaces/tileKeys';
import { useTiles } from '../surfaces/useTiles';

/** A part of a face at one trial: where it lies, the tiles that show it, and what was found once it is judged. */
export interface JudgedPart {
  readonly part: FacePart;
  readonly region: Region;
  readonly before: readonly Layered[];
  readonly after: readonly Layered[];
  readonly likeness: PartLikeness | null;
  /** Why it could not be judged. */
  readonly failure: string | null;
  /** Asks once more. */
  again(): void;
}

const known = new Map<string, PartLikeness | 'at work'>();
const failures = new Map<string, string>();

/** The parts of a face as a trial shows them; asks for the tiles and judges what has not been judged. */
export function useLikeness(
  frame: WorkerFrame,
  original: Column,
  trial: Column,
  face: Face | null,
): readonly JudgedPart[] {
  const [judged, setJudged] = useState(0);
  const parts = face ? face.parts.map((part) => placed(frame, original, trial, face, part)) : [];
  const version = useTiles(parts.flatMap(({ before, after }) => [...before, ...after]));
  const keys = parts.map(({ key }) => key).join('|');
  useEffect(() => {
    for (const { key, part, before, after } of parts) {
      if (known.has(key) || ![...before, ...after].every((tile) => tileEngine.isDone(tile.key))) continue;
      known.set(key, 'at work');
      const prescription = { ...trial, recovery: trial.outside ? null : trial.recovery };
      const job = {
        frame,
        prescription,
        part,
        face: face!.parts,
        version: trial.outside,
      };
      void tileEngine
        .judgeFacePart(job)
        .then(
          (likeness) => known.set(key, likeness),
          (error: Error) => failures.set(key, error.message),
        )
        .then(() => setJudged((count) => count + 1));
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- version says that tiles arrived, keys what is judged
  }, [version, keys, judged]);
  return parts.map(({ key, ...part }) => ({
    ...part,
    likeness: foundOf(key),
    failure: failures.get(key) ?? null,
    again() {
      failures.delete(key);
      known.delete(key);
      setJudged((count) => count + 1);
    },
  }));
}

/** What is known already of a face at a trial, without asking for anything. */
export function knownLikeness(
  frame: WorkerFrame,
  original: Column,
  trial: Column,
  face: Face,
): { part: FacePart; likeness: PartLikeness }[] {
  return face.parts.flatMap((part) => {
    const likeness = foundOf(placed(frame, original, trial, face, part).key);
    return likeness ? [{ part, likeness }] : [];
  });
}

function foundOf(key: string): PartLikeness | null {
  const found = known.get(key);
  return found && found !== 'at work' ? found : null;
}

function placed(frame: WorkerFrame, original: Column, trial: Column, face: Face, part: FacePart) {
  const region = regionOfPart(part, trial, frame);
  const before = layer(frame, original, region, 'final', 10);
  const after = layer(frame, trial, region, 'final', 11);
  const key = contentKey([after.map((tile) => tile.key), part, face.parts]);
  return { key, part, region, before, after };
}
