import { describe, expect, it } from 'vitest';
import type { FacePart } from '@vitrocept/core';
import { partAt } from '../src/surfaces/FacesLayer';
import { likenessSentence } from '../src/words';

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
