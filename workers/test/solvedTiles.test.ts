import { describe, expect, it } from 'vitest';
import {
  automaticRecovery,
  emptyPrescription,
  filledPlane,
  withNewMask,
  workOn,
  type Prescription,
  type Recovery,
  type SolvedTile,
} from '@vitrocept/core';
import { SolvedTiles } from '../src/solvedTiles';

const tile = { x: 0, y: 0, width: 8, height: 8 };
const plan = (part: Partial<Recovery> = {}): Prescription => ({
  ...emptyPrescription(),
  recovery: { ...automaticRecovery('missed-focus', null, 60), ...part, trialId: 'a' },
});
const amount = (value: number) => ({ amount: { value, auto: false } });
const grey = filledPlane(8, 8, 0.6);
const ANSWER = { answer: [grey], free: [grey], believed: grey };
const solved = (share: number): SolvedTile => ({
  wide: tile,
  base: [filledPlane(8, 8, 0.5)],
  cleaned: null,
  layers: [{ isAtWork: true, alpha: filledPlane(8, 8, 1), share, recovered: ANSWER }],
});

describe('solved tiles', () => {
  it('another Amount takes the answer that is there, with its own share', () => {
    const tiles = new SolvedTiles();
    let solves = 0;
    const at = (value: number) =>
      tiles.of('f', plan(amount(value)), tile, 'final', () => (solves++, solved(value / 100)));
    const first = at(60)!;
    const second = at(80)!;
    expect(solves).toBe(1);
    expect(second.layers[0].share).toBe(0.8);
    expect(second.base).toBe(first.base);
  });

  it('anything else is solved anew: setting, tile, effort, frame', () => {
    const tiles = new SolvedTiles();
    let solves = 0;
    const solve = () => (solves++, solved(0.6));
    tiles.of('f', plan(), tile, 'final', solve);
    tiles.of('f', plan({ noiseGuard: { value: 40, auto: false } }), tile, 'final', solve);
    tiles.of('f', plan(), { ...tile, x: 512 }, 'final', solve);
    tiles.of('f', plan(), tile, 'draft', solve);
    tiles.of('g', plan(), tile, 'final', solve);
    expect(solves).toBe(5);
  });

  it('keeps the last eight', () => {
    const tiles = new SolvedTiles();
    let solves = 0;
    const at = (x: number) => tiles.of('f', plan(), { ...tile, x }, 'final', () => (solves++, solved(0.6)));
    for (let x = 0; x < 72; x += 8) at(x);
    expect(solves).toBe(9);
    at(64);
    at(8);
    expect(solves).toBe(9);
    at(0);
    expect(solves).toBe(10);
  });

  it('another mask above, or another recovery under it, is another tile', () => {
    const tiles = new SolvedTiles();
    let solves = 0;
    const solve = () => (solves++, solved(0.6));
    const above = withNewMask(plan(), 'b', 'hair');
    const back = workOn({ ...above, recovery: plan().recovery }, 'mask-1');
    tiles.of('f', plan(), tile, 'final', solve);
    tiles.of('f', back, tile, 'final', solve);
    tiles.of('f', workOn({ ...above, recovery: plan(amount(30)).recovery }, 'mask-1'), tile, 'final', solve);
    expect(solves).toBe(3);
  });

  it('nothing prescribed is never kept', () => {
    const tiles = new SolvedTiles();
    let solves = 0;
    for (let i = 0; i < 2; i++) tiles.of('f', emptyPrescription(), tile, 'final', () => (solves++, null));
    expect(solves).toBe(2);
  });
});
