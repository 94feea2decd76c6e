import { boundsOver } from '../../picture/bounds';
import { cropPlane } from '../../picture/crop';
import { createPlane, type Plane } from '../../picture/plane';
import { grow, intersect, placedIn, wholeOf, type Region } from '../../picture/region';
import { cleanedFirst } from '../../recover/cleanedFirst';
import { reachOfRecovery } from '../../recover/reachOfRecovery';
import type { Recovered, RecoveryEffort, RecoveryInput, RecoverySettings } from '../../recover/recovery';
import { psfOf } from '../../methods';
import { normalisedPsf } from '../../psf/psf';
import type { BlurPart } from '../../audit/blurOver';
import type { FieldPart } from './fieldPart';
import { pathFieldOf, pathsOver, widestPath, type PathField } from './pathField';
import type { Prescription } from '../prescription';
import { rungsOver, sizeFieldOf, type SizeField } from './sizeField';

/** A blur that changes over the frame: in size, or in the path that a turning camera drew. */
export type BlurField = SizeField | PathField;

/** The field of a prescription, or null where one blur holds. */
export function fieldOf(prescription: Prescription, settings: RecoverySettings): BlurField | null {
  return sizeFieldOf(prescription, settings) ?? pathFieldOf(settings);
}

function partsOver(field: BlurField, settings: RecoverySettings, region: Region): FieldPart[] {
  return 'ladder' in field ? rungsOver(field, settings, region) : pathsOver(field, settings, region);
}

/** The settings of the blur that reaches farthest. */
export function widestIn(field: BlurField, settings: RecoverySettings): RecoverySettings {
  return 'ladder' in field ? { ...settings, blurSizePx: Math.max(...field.ladder) } : widestPath(field, settings);
}

const POINT = normalisedPsf(1, 1, [1]);

/** The blurs over `region` of the frame, each with its share at every sample: as `recoverOverField` blends them. */
export function blurPartsOver(field: BlurField, settings: RecoverySettings, region: Region): BlurPart[] {
  return partsOver(field, settings, region).map(({ settings: own, share }) => ({
    psf: own ? psfOf(own) : POINT,
    share,
  }));
}

type Recover = (input: RecoveryInput, settings: RecoverySettings, effort: RecoveryEffort) => Recovered;

/**
 * Recovers `inner` (a part of the input, in its samples) with one blur, or with each that holds in it, blended px by
 * px. Each is solved only where it is needed, with as much around it as its own blur asks for.
 */
export function recoverOverField(
  given: RecoveryInput,
  settings: RecoverySettings,
  field: BlurField | null,
  inner: Region,
  effort: RecoveryEffort,
  recover: Recover,
  shown = inner,
): Recovered {
  const input = cleanedFirst(given, settings, effort.kernels);
  if (!field) {
    const { answer, free, believed } = recover({ ...input, shown }, settings, effort);
    const cut = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, inner));
    return { answer: cut(answer), free: cut(free), believed: cropPlane(believed, inner) };
  }
  const { width, height } = inner;
  const empty = () => input.channels.map(() => createPlane(width, height));
  const out = { answer: empty(), free: empty(), believed: createPlane(width, height) };
  const place = { ...inner, x: input.originX + inner.x, y: input.originY + inner.y };
  for (const { settings: own, share } of partsOver(field, settings, place)) {
    const part = boundsOver(share);
    if (!part) continue;
    const wanted = { ...part, x: part.x + inner.x, y: part.y + inner.y };
    const seen = own && intersect(grow(wanted, reachOfRecovery(own, undefined, effort)), wholeOf(input.known));
    const solved =
      own && seen ? recover({ ...cropInput(input, seen), shown: placedIn(shown, seen) }, own, effort) : null;
    const says = cropPlane(share, part).data;
    const add = (to: Plane, answer: Plane | undefined, original: Plane) =>
      addWeighted(to, part, says, answer && seen ? [answer, seen] : [original, wholeOf(original)], wanted);
    add(out.believed, solved?.believed, input.known);
    input.channels.forEach((original, c) => {
      add(out.answer[c], solved?.answer[c], original);
      add(out.free[c], solved?.free[c], original);
    });
  }
  return out;
}

/**
 * Adds `says` times a plane to the part of `to`. The plane covers a region in whose samples `wanted`, of the part's
 * size, is given.
 */
function addWeighted(
  to: Plane,
  part: Region,
  says: Float32Array,
  [plane, covered]: readonly [Plane, Region],
  wanted: Region,
): void {
  const [sums, values] = [to.data, plane.data];
  for (let y = 0, i = 0; y < part.height; y++) {
    const row = (part.y + y) * to.width + part.x;
    const from = (wanted.y + y - covered.y) * plane.width + wanted.x - covered.x;
    for (let x = 0; x < part.width; x++, i++) if (says[i] > 0) sums[row + x] += says[i] * values[from + x];
  }
}

function cropInput(input: RecoveryInput, seen: Region): RecoveryInput {
  const clipped = new Uint8Array(seen.width * seen.height);
  for (let row = 0; row < seen.height; row++) {
    const from = (seen.y + row) * input.known.width + seen.x;
    clipped.set(input.clipped.subarray(from, from + seen.width), row * seen.width);
  }
  return {
    ...input,
    channels: input.channels.map((channel) => cropPlane(channel, seen)),
    clean: input.clean?.map((channel) => cropPlane(channel, seen)),
    known: cropPlane(input.known, seen),
    clipped,
    originX: input.originX + seen.x,
    originY: input.originY + seen.y,
  };
}
