import type { Face } from '../audit/face';
import type { AreaOperation, Dab, MaskOperation, RadialOperation } from '../mask/maskOperation';
import { withMask } from '../prescription/masks';
import type { Prescription } from '../prescription/prescription';

export function withOperations(
  old: Prescription,
  act: (operations: readonly MaskOperation[]) => readonly MaskOperation[],
  /** Another mask may be at work by the time an area has been computed. */
  maskId = old.mask.id,
): Prescription {
  return withMask(old, maskId, (mask) => ({ ...mask, operations: act(mask.operations) }));
}

export const added = (operation: MaskOperation, maskId?: string) => (old: Prescription) =>
  withOperations(old, (list) => [...list, operation], maskId);

/** Puts another operation in the place of one, if that is still of the same kind. */
export const replacedAt = (at: number, operation: MaskOperation, maskId?: string) => (old: Prescription) =>
  withOperations(
    old,
    (list) =>
      list.map((other, i) =>
        i === at && isAlike(other, operation) ? { ...operation, ...(other.isOff ? { isOff: true } : {}) } : other,
      ),
    maskId,
  );

function isAlike(a: MaskOperation, b: MaskOperation): boolean {
  return a.kind === 'area' && b.kind === 'area' ? a.from.kind === b.from.kind : a.kind === b.kind;
}

export function isSubject(operation: MaskOperation): operation is AreaOperation {
  return operation.kind === 'area' && operation.from.kind === 'subject';
}

export function dabsOf(operations: readonly MaskOperation[]): readonly Dab[] {
  const from = operations.find(isSubject)?.from;
  return from?.kind === 'subject' ? from.dabs : [];
}

/**
 * What was pointed at alone, where the subject was found from that; undefined where it was looked for in all of the
 * frame.
 */
export function onlyOf(operations: readonly MaskOperation[]): readonly number[] | undefined {
  const from = operations.find(isSubject)?.from;
  return from?.kind === 'subject' ? from.only : undefined;
}

/** The subject found anew takes the place of the one before; the first lies under everything painted. */
export function withSubject(list: readonly MaskOperation[], area: MaskOperation): MaskOperation[] {
  const at = list.findIndex(isSubject);
  return at < 0 ? [area, ...list] : list.map((other, i) => (i === at ? area : other));
}

/** Half a pixel of the frame is finer than any brush. */
export const halfPx = (value: number) => Math.round(value * 2) / 2;

const FEATURES = ['left eye', 'right eye', 'left brow', 'right brow', 'lips', 'teeth'];
/** A feature with its lashes and rim, and skin that lies over the whole face. */
const FEATURE_ROOM = 1.35;
const FEATURE_FEATHER = 45;
const SKIN_FEATHER = 35;

const nameOf = (face: Face, what: string) => `${face.name}: ${what}`;

/** A part of a face as a soft ellipse. */
export function partShape(face: Face, name: string): RadialOperation | null {
  const part = face.parts.find((other) => other.part === name);
  if (!part) return null;
  const [rx, ry] = [part.rx * FEATURE_ROOM, part.ry * FEATURE_ROOM];
  return {
    kind: 'radial',
    mode: 'add',
    x: halfPx(part.x),
    y: halfPx(part.y),
    rx: halfPx(rx),
    ry: halfPx(ry),
    featherPercent: FEATURE_FEATHER,
    name: nameOf(face, name),
  };
}

/** All of a face, guessed from where its parts lie; null where they say too little. */
function skinShape(face: Face): RadialOperation | null {
  if (face.parts.length < 2) return null;
  const left = Math.min(...face.parts.map(({ x, rx }) => x - rx));
  const right = Math.max(...face.parts.map(({ x, rx }) => x + rx));
  const top = Math.min(...face.parts.map(({ y, ry }) => y - ry));
  const bottom = Math.max(...face.parts.map(({ y, ry }) => y + ry));
  const [width, height] = [right - left, bottom - top];
  return {
    kind: 'radial',
    mode: 'erase',
    x: halfPx((left + right) / 2),
    y: halfPx((top + bottom) / 2),
    rx: halfPx(Math.max(0.75 * width, 0.6 * height)),
    ry: halfPx(Math.max(0.95 * height, 0.6 * width)),
    featherPercent: SKIN_FEATHER,
    name: nameOf(face, 'skin'),
  };
}

export const isOfFace = (operation: MaskOperation, face: Face, what?: string) =>
  operation.kind === 'radial' &&
  (what ? operation.name === nameOf(face, what) : (operation.name ?? '').startsWith(`${face.name}: `));

/** Skin out, features in: or both taken back. */
export function withFeatures(list: readonly MaskOperation[], faces: readonly Face[], isOn: boolean): MaskOperation[] {
  const rest = list.filter((operation) => !faces.some((face) => isOfFace(operation, face)));
  if (!isOn) return rest;
  const skins = rest.length > 0 ? faces.map(skinShape) : [];
  const features = faces.flatMap((face) => FEATURES.map((name) => partShape(face, name)));
  return [...rest, ...[...skins, ...features].filter((shape) => shape !== null)];
}

/** One part in, or out again. */
export function withPartTurned(list: readonly MaskOperation[], face: Face, name: string): MaskOperation[] {
  if (list.some((operation) => isOfFace(operation, face, name))) {
    return list.filter((operation) => !isOfFace(operation, face, name));
  }
  const shape = partShape(face, name);
  return shape ? [...list, shape] : [...list];
}

/** A dab of the original, painted back over a place: subtracted from the mask. */
export function paintBack(old: Prescription, { x, y }: { x: number; y: number }, sizePx: number): Prescription {
  const { operations } = old.mask;
  const dab = { kind: 'stroke', mode: 'erase', sizePx, featherPercent: 50, points: [x, y] } as const;
  // No mask means everywhere: an empty one turned round says the same, and can be subtracted from.
  const before = operations.length > 0 ? operations : [{ kind: 'invert' } as const];
  return { ...old, mask: { ...old.mask, operations: [...before, dab] } };
}
