import { describe, expect, it } from 'vitest';
import {
  atAmount,
  automaticRecovery,
  checkPrescription,
  colourSpaceOf,
  emptyPrescription,
  encodeChannels,
  FINAL_EFFORT,
  isRecovered,
  PLAIN_KERNELS,
  plansOf,
  renderTile,
  seenAtWork,
  shownOf,
  solveTile,
  tilesToRender,
  withMask,
  withMaskMoved,
  withNewMask,
  withoutMask,
  workOn,
  type MaskOperation,
  type Prescription,
} from '../../src';
import { deadLeaves } from '../synthetic';

const FRAME = { width: 72, height: 48 };
const WHOLE = { x: 0, y: 0, ...FRAME };
const scene = deadLeaves(FRAME.width, FRAME.height, 3);
const space = colourSpaceOf(null, 3);
const source = { frame: FRAME, space };
const piece = { region: WHOLE, channels: 3 as const, codes: encodeChannels([scene, scene, scene], space) };
const effort = { ...FINAL_EFFORT, kernels: PLAIN_KERNELS };

const under = (x: number, rx: number): MaskOperation[] => [
  { kind: 'radial', mode: 'add', x, y: 24, rx, ry: 20, featherPercent: 60 },
];
const recovery = (amount: number, blurSizePx: number) => ({
  ...automaticRecovery('edge-contrast', null, amount),
  blurSizePx: { value: blurSizePx, auto: false },
  trialId: null,
});

/** Face below at 80 %, hair above at 50 %; they overlap in the middle. The hair is at work. */
function faceAndHair(): Prescription {
  const face = { ...emptyPrescription(), recovery: recovery(100, 2) };
  const first = withMask(face, 'mask-1', (mask) => ({
    ...mask,
    name: 'face',
    opacityPercent: 80,
    operations: under(28, 22),
  }));
  const hair = withNewMask(first, 'hair', 'hair');
  return {
    ...withMask(hair, 'hair', (mask) => ({ ...mask, opacityPercent: 50, operations: under(46, 22) })),
    recovery: recovery(70, 4),
  };
}
const namesOf = (plan: Prescription) => plansOf(plan).map(({ mask }) => mask.name);

describe('several masks', () => {
  it('stand in order, are put to work, moved, removed; the last one stays', () => {
    const both = faceAndHair();
    expect(namesOf(both)).toEqual(['face', 'hair']);
    expect(both.mask.name).toBe('hair');
    const face = workOn(both, 'mask-1');
    expect(face.mask.name).toBe('face');
    expect(face.recovery!.amount.value).toBe(100);
    expect(namesOf(face)).toEqual(['face', 'hair']);
    expect(namesOf(withMaskMoved(face, 'mask-1', 1))).toEqual(['hair', 'face']);
    expect(withMaskMoved(face, 'mask-1', 1).mask.name).toBe('face');
    expect(withMaskMoved(face, 'mask-1', -1)).toBe(face);
    const alone = withoutMask(face, 'mask-1');
    expect(namesOf(alone)).toEqual(['hair']);
    expect(withoutMask(alone, 'hair')).toBe(alone);
    expect(workOn(face, 'nobody')).toBe(face);
    expect(isRecovered({ ...workOn(both, 'mask-1'), recovery: null })).toBe(true);
  });

  it('going to another mask and back changes nothing, and what is saved is valid', () => {
    const both = faceAndHair();
    const there = workOn(both, 'mask-1');
    expect(JSON.stringify(workOn(there, 'hair'))).toBe(JSON.stringify(workOn(workOn(there, 'hair'), 'hair')));
    const saved = checkPrescription(JSON.parse(JSON.stringify(there)));
    expect(namesOf(saved)).toEqual(['face', 'hair']);
    const wrong = { ...there, masksAbove: [{ ...there.masksAbove![0], recovery: { method: 'no such' } }] };
    expect(() => checkPrescription(JSON.parse(JSON.stringify(wrong)))).toThrow(/masksAbove/);
  });

  it('w = α·Π(1 − α of those above); out = base·(1 − Σw) + Σ w·x', () => {
    const both = faceAndHair();
    const solved = solveTile(source, both, piece, WHOLE, effort)!;
    const [face, hair] = solved.layers;
    expect([face.isAtWork, hair.isAtWork]).toEqual([false, true]);
    const shown = shownOf(solved);
    for (let i = 0; i < shown[0].data.length; i += 5) {
      const base = solved.base[0].data[i];
      const x = [face, hair].map(({ share, recovered }) => base + share * (recovered.answer[0].data[i] - base));
      const w = [face.alpha.data[i] * (1 - hair.alpha.data[i]), hair.alpha.data[i]];
      expect(shown[0].data[i]).toBeCloseTo(base * (1 - w[0] - w[1]) + w[0] * x[0] + w[1] * x[1], 5);
    }
    const below = solveTile(source, workOn(both, 'mask-1'), piece, WHOLE, effort)!;
    const seen = seenAtWork(below)!;
    for (let i = 0; i < seen.data.length; i += 5) {
      expect(seen.data[i]).toBeCloseTo(face.alpha.data[i] * (1 - hair.alpha.data[i]), 5);
    }
  });

  it('whichever is at work, the render is the same; outside all of them the original’s own codes stay', () => {
    const both = faceAndHair();
    const { codes } = renderTile(source, both, piece, WHOLE, effort);
    expect(renderTile(source, workOn(both, 'mask-1'), piece, WHOLE, effort).codes).toEqual(codes);
    let changed = 0;
    for (let x = 0; x < FRAME.width; x++) {
      for (let y = 0; y < FRAME.height; y++) {
        const i = (y * FRAME.width + x) * 3;
        const isOut = [28, 46].every((middle) => Math.hypot((x - middle) / 22, (y - 24) / 20) > 1.05);
        if (isOut) expect(codes.slice(i, i + 3)).toEqual(piece.codes.slice(i, i + 3));
        else if (codes[i] !== piece.codes[i]) changed++;
      }
    }
    expect(changed).toBeGreaterThan(300);
  });

  it('another Amount of the one at work needs no other answer', () => {
    const both = faceAndHair();
    const solved = solveTile(source, both, piece, WHOLE, effort)!;
    const direct = solveTile(source, { ...both, recovery: recovery(20, 4) }, piece, WHOLE, effort)!;
    expect(shownOf(atAmount(solved, 20))).toEqual(shownOf(direct));
  });

  it('an empty mask beside others covers nothing; alone it is the whole frame', () => {
    const alone = { ...emptyPrescription(), recovery: recovery(100, 2) };
    expect(tilesToRender(alone, FRAME)).toHaveLength(1);
    const beside = { ...withNewMask(emptyPrescription(), 'b', 'second'), recovery: recovery(100, 2) };
    expect(tilesToRender(beside, FRAME)).toHaveLength(0);
    expect(renderTile(source, beside, piece, WHOLE, effort).changed).toBe(false);
  });
});
