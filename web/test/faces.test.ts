import { describe, expect, it } from 'vitest';
import type { FacePart } from '@vitrocept/core';
import { partAt } from '../src/surfaces/FacesLayer';
import { partsOfMesh } from '../src/surfaces/partsOfMesh';
import { likenessSentence } from '../src/words';

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

describe('parts of a face on the page', () => {
  const eye: FacePart = { part: 'left eye', x: 10, y: 20, rx: 5, ry: 4 };

  it('a place belongs to the smallest part around it', () => {
    const iris: FacePart = { part: 'left iris', x: 10, y: 20, rx: 2, ry: 2 };
    expect(partAt([eye, iris], 10, 21)).toBe(iris);
    expect(partAt([eye, iris], 14, 20)).toBe(eye);
    expect(partAt([eye, iris], 40, 20)).toBeNull();
  });

  it('the worst is said in plain words', () => {
    const safe = { verdict: 'safe', value: 0 } as const;
    const say = (more: object) => likenessSentence({ shift: safe, hue: safe, structure: safe, ...more });
    expect(say({})).toBe('As in the photograph.');
    expect(say({ hue: { verdict: 'check', value: 2.04 } })).toBe('Its colour has turned by 2.0 ΔE₀₀.');
    expect(say({ hue: { verdict: 'check', value: 2 }, shift: { verdict: 'damaged', value: 3 } })).toBe(
      'Moved by 3.0 % of the distance between the eyes.',
    );
  });
});
