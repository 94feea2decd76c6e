import type { FacePart, FacePartName } from './face';

/** Outlines of a face by their names, px. */
type Annotations = Readonly<Partial<Record<string, readonly (readonly [x: number, y: number, z?: number])[]>>>;

/** Which outlines of the mesh make up a part. The mesh calls left what the face calls left. */
const OUTLINES: Record<FacePartName, readonly string[]> = {
  'left eye': ['leftEyeUpper0', 'leftEyeLower0'],
  'right eye': ['rightEyeUpper0', 'rightEyeLower0'],
  'left iris': ['leftEyeIris'],
  'right iris': ['rightEyeIris'],
  'left brow': ['leftEyebrowUpper', 'leftEyebrowLower'],
  'right brow': ['rightEyebrowUpper', 'rightEyebrowLower'],
  nose: ['noseTip', 'noseBottom', 'noseLeftCorner', 'noseRightCorner'],
  lips: ['lipsUpperOuter', 'lipsLowerOuter'],
  teeth: ['lipsUpperInner', 'lipsLowerInner'],
};

/** Lips farther apart than this share of their width show teeth. */
const OPEN_MOUTH = 0.12;
const LEAST_RADIUS_PX = 1.5;

/** The parts of a face from the outlines of its mesh, px of the picture the mesh was found in. */
export function partsOfMesh(annotations: Annotations): FacePart[] {
  const parts = (Object.keys(OUTLINES) as FacePartName[]).flatMap((part): FacePart[] => {
    const points = OUTLINES[part].flatMap((name) => annotations[name] ?? []);
    if (points.length < 3) return [];
    const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
    const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    if (part === 'teeth' && bottom - top < OPEN_MOUTH * (right - left)) return [];
    return [
      {
        part,
        x: (left + right) / 2,
        y: (top + bottom) / 2,
        rx: Math.max(LEAST_RADIUS_PX, (right - left) / 2),
        ry: Math.max(LEAST_RADIUS_PX, (bottom - top) / 2),
      },
    ];
  });
  return withIrisesInTheirEyes(parts);
}

/** The mesh and the model of irises do not always agree which side is left. */
function withIrisesInTheirEyes(parts: readonly FacePart[]): FacePart[] {
  const of = (name: FacePartName) => parts.find(({ part }) => part === name);
  const [eye, iris, other] = [of('left eye'), of('left iris'), of('right iris')];
  if (!eye || !iris || !other) return [...parts];
  const far = (part: FacePart) => Math.hypot(part.x - eye.x, part.y - eye.y);
  if (far(iris) <= far(other)) return [...parts];
  const swapped = { 'left iris': 'right iris', 'right iris': 'left iris' } as const;
  return parts.map((one) =>
    one.part === 'left iris' || one.part === 'right iris' ? { ...one, part: swapped[one.part] } : one,
  );
}
