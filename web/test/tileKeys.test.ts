import { describe, expect, it } from 'vitest';
import {
  automaticRecovery,
  emptyPrescription,
  FRAME_STAGES,
  type FrameStage,
  type Prescription,
  type Region,
} from '@vitrocept/core';
import { layer, type Column } from '../src/surfaces/tileKeys';

const frame = { id: 'f', width: 3000, height: 2000, channels: 3, bits: 8 } as const;
const view: Region = { x: 100, y: 100, width: 200, height: 150 };
const base: Prescription = {
  ...emptyPrescription(),
  recovery: { ...automaticRecovery('missed-focus', null, 60), trialId: 't' },
};
const dab = (x: number, y: number) =>
  ({ kind: 'stroke', mode: 'add', sizePx: 40, featherPercent: 50, points: [x, y] }) as const;
const masked = (...places: readonly (readonly [number, number])[]): Prescription => ({
  ...base,
  mask: { ...base.mask, operations: places.map(([x, y]) => dab(x, y)) },
});
const keyOf = (column: Column, effort: 'draft' | 'final' = 'final') => layer(frame, column, view, effort, 0)[0].key;

describe('keys of tiles', () => {
  it('another name, probe or choice redraws nothing', () => {
    const probes = [{ id: 'p', name: 'eye', x: 1, y: 2 }];
    expect(keyOf({ ...base, probes, trials: [], mask: { ...base.mask, name: 'head' } })).toBe(keyOf(base));
    expect(keyOf({ ...base, recovery: { ...base.recovery!, trialId: 'other' } })).toBe(keyOf(base));
  });

  it('another setting, opacity or effort is another tile', () => {
    const stronger = { ...base, recovery: { ...base.recovery!, amount: { value: 61, auto: false } } };
    const thinner = { ...base, mask: { ...base.mask, opacityPercent: 50 } };
    const keys = [keyOf(base), keyOf(stronger), keyOf(thinner), keyOf(base, 'draft')];
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('a dab far away leaves a tile as it is, one nearby does not', () => {
    const before = masked([200, 200]);
    expect(keyOf(masked([200, 200], [2500, 1500]))).toBe(keyOf(before));
    expect(keyOf(masked([200, 200], [270, 200]))).not.toBe(keyOf(before));
  });

  it('follow a stage that is put into the pipeline', () => {
    const named = (tint: number) => ({ ...base, tint }) as Column;
    expect(keyOf(named(1))).toBe(keyOf(base));
    const stage = {
      ...FRAME_STAGES[0],
      name: 'tint',
      settingsOf: (plan: object) => ('tint' in plan ? plan.tint : null),
    };
    FRAME_STAGES.push({ ...stage, reach: () => 3, keyOf: (settings: unknown) => settings } as FrameStage);
    try {
      expect(keyOf(named(1))).not.toBe(keyOf({ ...base }));
      expect(keyOf(named(1))).not.toBe(keyOf(named(2)));
      expect(keyOf({ ...named(1), recovery: null })).not.toBe(keyOf({ ...base, recovery: null }));
    } finally {
      FRAME_STAGES.pop();
    }
  });

  it('a mask that lies elsewhere is not the same as none', () => {
    expect(keyOf(masked([2500, 1500]))).not.toBe(keyOf(base));
  });

  it('originals are shared by all columns and never audited', () => {
    const original = layer(frame, { ...base, recovery: null }, view, 'final', 0)[0];
    const other = layer(frame, { ...masked([1, 1]), recovery: null }, view, 'final', 0)[0];
    expect(original.key).toBe(other.key);
    expect(original.want.job.audits).toBe(false);
    expect(layer(frame, base, view, 'final', 0)[0].want.job.audits).toBe(true);
    expect(layer(frame, base, view, 'draft', 0)[0].want.job.audits).toBe(false);
  });

  it('a draft is made for just what is seen, a final on the grid; what is seen from afar is drafted piece by piece', () => {
    const regions = (effort: 'draft' | 'final', seen: Region) =>
      layer(frame, base, seen, effort, 0).map(({ tile }) => tile);
    expect(regions('draft', view)).toEqual([view]);
    expect(regions('final', view).every(({ x, y }) => x % 256 === 0 && y % 256 === 0)).toBe(true);
    expect(regions('draft', { ...view, x: -50 })).toEqual([{ x: 0, y: 100, width: 150, height: 150 }]);
    expect(regions('draft', { ...view, x: -500 })).toEqual([]);
    const whole = regions('draft', { x: 0, y: 0, width: 3000, height: 2000 });
    expect(whole.reduce((sum, { width, height }) => sum + width * height, 0)).toBe(3000 * 2000);
    const keys = [view, { ...view, width: 120 }].map((seen) => layer(frame, base, seen, 'draft', 0)[0].key);
    expect(keys[0]).not.toBe(keys[1]);
  });

  it('an outside version is itself, whatever is prescribed beside it', () => {
    const placement = { scaleX: 1, scaleY: 1, shiftX: 0, shiftY: 0 };
    const outside = { id: 'v', width: 10, height: 10, placement };
    const column = { ...base, recovery: null, outside };
    expect(keyOf(column)).toBe(keyOf({ ...column, mask: masked([1, 1]).mask }));
    expect(keyOf(column)).not.toBe(keyOf({ ...column, outside: { ...outside, id: 'w' } }));
    expect(layer(frame, column, view, 'final', 0)[0].want.job.version).toEqual(outside);
  });
});
