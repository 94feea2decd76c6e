import { describe, expect, it } from 'vitest';
import { pressed } from '../src/shoots/selection';

const FRAMES = ['a', 'b', 'c', 'd', 'e'].map((id) => ({ id }));

describe('choosing frames on a sheet', () => {
  it('a press takes one in or out', () => {
    const last = { current: null };
    const one = pressed(FRAMES, new Set(), 'b', false, last);
    expect([...one]).toEqual(['b']);
    expect([...pressed(FRAMES, one, 'b', false, last)]).toEqual([]);
  });

  it('with Shift all between the last pressed one and this, either way round', () => {
    const last = { current: null };
    const one = pressed(FRAMES, new Set(), 'd', false, last);
    const many = pressed(FRAMES, one, 'b', true, last);
    expect([...many].sort()).toEqual(['b', 'c', 'd']);
    expect([...pressed(FRAMES, many, 'e', true, last)].sort()).toEqual(['b', 'c', 'd', 'e']);
  });

  it('with Shift and nothing pressed before, just that one', () => {
    expect([...pressed(FRAMES, new Set(), 'c', true, { current: null })]).toEqual(['c']);
  });
});
