import { describe, expect, it } from 'vitest';
import { facesOfMeshes, partsOfMesh, type FacePart } from '../../src';

const ring = (x: number, y: number, r: number, flat = 1): [number, number][] =>
  Array.from({ length: 8 }, (_, i) => [
    x + r * Math.cos((i * Math.PI) / 4),
    y + flat * r * Math.sin((i * Math.PI) / 4),
  ]);

describe('parts from the outlines of a mesh', () => {
  const mesh = {
    leftEyeUpper0: ring(200, 100, 20, 0.5),
    rightEyeUpper0: ring(100, 100, 20, 0.5),
    // The model of irises calls them the other way round.
    leftEyeIris: ring(101, 100, 8),
    rightEyeIris: ring(199, 100, 8),
    lipsUpperOuter: ring(150, 180, 30, 0.3),
    lipsUpperInner: ring(150, 180, 24, 0.05),
    noseTip: [[150, 140]] as [number, number][],
  };

  it('gives middle and half axes, irises in their own eyes', () => {
    const parts = partsOfMesh(mesh);
    const of = (name: FacePart['part']) => parts.find(({ part }) => part === name)!;
    expect(of('left eye')).toMatchObject({ x: 200, y: 100, rx: 20, ry: 10 });
    expect(of('left iris').x).toBe(199);
    expect(of('right iris').x).toBe(101);
  });

  it('a closed mouth has no teeth, and single points make no part', () => {
    const names = partsOfMesh(mesh).map(({ part }) => part);
    expect(names).not.toContain('teeth');
    expect(names).not.toContain('nose');
    const open = { ...mesh, lipsUpperInner: ring(150, 180, 24, 0.3) };
    expect(partsOfMesh(open).map(({ part }) => part)).toContain('teeth');
  });
});

describe('faces of meshes', () => {
  const mesh = (x: number, r: number) => ({ leftEyeUpper0: ring(x, 100, r), lipsUpperOuter: ring(x, 180, r) });

  it('come the largest first, in px of the frame, those without parts left out', () => {
    const faces = facesOfMeshes(
      [
        { box: [0, 0, 20, 20], score: 0.8, annotations: mesh(50, 4) },
        { box: [0, 0, 90, 90], score: 1.02, annotations: mesh(150, 20) },
        { box: [0, 0, 200, 200], score: 0.9, annotations: {} },
      ],
      2,
    );
    expect(faces.map(({ sureness }) => sureness)).toEqual([1, 0.8]);
    expect(faces[0].parts[0]).toEqual({ part: 'left eye', x: 300, y: 200, rx: 40, ry: 40 });
  });
});
