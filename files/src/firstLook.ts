import {
  areaOperation,
  drawMask,
  whereToRead,
  WHERE_SIDE,
  wholeOf,
  type Plane,
  type WhereToRead,
} from '@vitrocept/core';
import { nodeKernels } from './nodeKernels';
import type { DecodedPicture } from './readPicture';
import { smallOf, subjectOf, SUBJECT_SIDE } from './smallPicture';

export interface FirstLook {
  readonly kind: WhereToRead['kind'];
  /** Of the frame, 0..1. */
  readonly share: number;
  /** Over the frame, 0..1: where to read; null: everywhere. Of a subject it is also what to recover. */
  readonly mask: Plane | null;
}

/** Where to read a picture when nobody said, its subject outlined at full size. */
export async function firstLook(picture: DecodedPicture): Promise<FirstLook> {
  // With them comes what tells a subject.
  await nodeKernels();
  const { kind, coverage, share } = whereToRead(smallOf(picture, WHERE_SIDE), picture);
  if (kind === 'whole' || !coverage) return { kind, share, mask: null };
  const operation =
    kind === 'subject'
      ? subjectOf(smallOf(picture, SUBJECT_SIDE), picture).operation
      : areaOperation(coverage, picture, 'add', { kind: 'subject', dabs: [] });
  return { kind, share, mask: drawMask([operation], wholeOf(picture)) };
}
