import { describe, expect, it } from 'vitest';
import { unchangedFigures, type Figures } from '@vitrocept/core';
import { bestTrades, damageOf, gainOf } from '../src/trials/damage';
import { worstSentence } from '../src/words';

const figures = (part: Partial<Figures>): Figures => ({ ...unchangedFigures(), ...part });

describe('gained against damage', () => {
  it('an unchanged picture has no damage', () => {
    expect(damageOf(figures({ grain: { verdict: 'safe', value: 0, at: null } }))).toBe(0);
  });

  it('the worst figure counts, on one scale; what cannot be measured does not', () => {
    const halo = { verdict: 'damaged', value: 15, at: null } as const;
    const ringing = { verdict: 'not measurable', value: 99, at: null } as const;
    expect(damageOf(figures({ halo, ringing }))).toBe(2);
  });

  it('edges half as wide are a gain of two', () => {
    expect(gainOf(figures({ gain: { before: 6, after: 3 } }))).toBe(2);
    expect(gainOf(figures({}))).toBeNull();
  });

  it('the front holds those that none beats in both', () => {
    const trades = [
      { gain: 1, damage: 0 },
      { gain: 1.5, damage: 0.8 },
      { gain: 1.4, damage: 1.2 },
      { gain: 2, damage: 2.5 },
    ];
    expect(bestTrades(trades).map(({ gain }) => gain)).toEqual([1, 1.5, 2]);
  });

  it('says the worst in plain words', () => {
    const halo = { verdict: 'damaged', value: 18.2, at: { x: 1, y: 2 } } as const;
    expect(worstSentence(figures({ halo }), 'At probe 2')).toBe('At probe 2 an edge overshoots by 18 % of its step.');
    expect(worstSentence(figures({}), 'Here')).toBe('Here nothing stands out.');
  });
});
