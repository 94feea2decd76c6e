import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  auditMargin,
  auditTile,
  auditVersion,
  automaticRecovery,
  blurred,
  colourSpaceOf,
  decodePiece,
  discPsf,
  emptyPrescription,
  encodeChannels,
  exposed,
  figuresOver,
  filledPlane,
  FINAL_EFFORT,
  grow,
  NOT_CHECKABLE,
  renderTile,
  seededRandom,
  solveTile,
  takeReading,
  VERSION_MARGIN,
  type AcceptedReading,
  type CodePiece,
  type Method,
  type Plane,
  type Prescription,
} from '../../src';
import { fastKernels } from '../fastKernels';
import { deadLeaves } from '../synthetic';

const SIDE = 192;
const whole = { x: 0, y: 0, width: SIDE, height: SIDE };
const space = colourSpaceOf(null, 3);
const effort = { ...FINAL_EFFORT, kernels: fastKernels };
const psf = discPsf(3);
const scene = [1, 0.85, 0.7].map((share) => {
  const leaves = deadLeaves(SIDE + 16, SIDE + 16, 41, 3);
  return { ...leaves, data: leaves.data.map((value) => share * value) };
});
const line = { a: 1e-5, b: 4e-6 };
const photograph = exposed(blurred(scene, psf, 8), [line, line, line], seededRandom(6));
const piece: CodePiece = { region: whole, channels: 3, codes: encodeChannels(photograph, space) };
const source = { frame: whole, space };

const reading: AcceptedReading = {
  ...acceptReading(
    takeReading({
      channels: photograph,
      lumaWeights: space.lumaWeights,
      use: filledPlane(SIDE, SIDE, 1),
      clipped: new Uint8Array(SIDE * SIDE),
      jpeg: false,
      kernels: fastKernels,
      psf,
    }),
    { kind: 'mask', key: '' },
  ),
  method: 'missed-focus',
  blurSizePx: 6,
};

const planOf = (method: Method, mask = emptyPrescription().mask): Prescription => ({
  ...emptyPrescription(),
  reading,
  mask,
  recovery: { ...automaticRecovery(method, reading, 100), trialId: null },
});

const auditOf = (plan: Prescription, tile = whole) =>
  auditTile(source, plan, piece, tile, solveTile(source, plan, piece, tile, effort)!, 16, effort);

const inside = grow(whole, -16);

describe('the audit of a tile', () => {
  it('of an honest recovery finds nothing unproven', () => {
    const figures = figuresOver([auditOf(planOf('missed-focus'))], inside);
    expect(figures.unproven.verdict).toBe('safe');
    expect(figures.colour.verdict).toBe('safe');
    expect(figures.gain!.after).toBeLessThan(figures.gain!.before);
  });

  it('says the same of a place, whichever way the frame is cut', () => {
    const plan = planOf('missed-focus');
    const place = { x: 64, y: 64, width: 64, height: 64 };
    const one = figuresOver([auditOf(plan)], place).unproven;
    const left = auditOf(plan, { x: 0, y: 0, width: 96, height: SIDE });
    const right = auditOf(plan, { x: 96, y: 0, width: 96, height: SIDE });
    const two = figuresOver([left, right], place).unproven;
    expect(Math.abs(one.value - two.value)).toBeLessThan(0.15);
  });

  it('leaves the border and what lies outside the mask unjudged', () => {
    const dab = { kind: 'stroke', mode: 'add', sizePx: 80, featherPercent: 0, points: [96, 96] } as const;
    const { kind } = auditOf(planOf('missed-focus', { ...emptyPrescription().mask, operations: [dab] }));
    const at = (x: number, y: number) => kind[(y >> 1) * (SIDE / 2) + (x >> 1)];
    expect(at(96, 96)).not.toBe(NOT_CHECKABLE);
    expect(at(20, 20)).toBe(NOT_CHECKABLE);
    const everywhere = auditOf(planOf('missed-focus')).kind;
    expect(everywhere[0]).toBe(NOT_CHECKABLE);
    expect(everywhere[8 * (SIDE / 2) + 8]).not.toBe(NOT_CHECKABLE);
  });

  it('of a method without a blur model fits the blur that was taken back', () => {
    const { fitted } = auditOf(planOf('edge-contrast'));
    expect(fitted).not.toBeNull();
    expect(fitted!.takenBack).toBeGreaterThan(0.3);
    expect(fitted!.psf.data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 4);
    expect(auditMargin(planOf('edge-contrast'))).toBeGreaterThanOrEqual(36);
  });
});

describe('the audit of an outside version', () => {
  const versionOf = (channels: readonly Plane[]): CodePiece => ({ ...piece, codes: encodeChannels(channels, space) });
  const withSpot = (channels: readonly Plane[], left: number, top: number): Plane[] => {
    const painted = channels.map((plane) => ({ ...plane, data: plane.data.slice() }));
    for (const { data } of painted) {
      for (let y = top; y < top + 6; y++) data.fill(0.95, y * SIDE + left, y * SIDE + left + 6);
    }
    return painted;
  };
  const covered = filledPlane(SIDE + 2 * VERSION_MARGIN, SIDE + 2 * VERSION_MARGIN, 1);
  const judge = (channels: readonly Plane[]) =>
    figuresOver([auditVersion(source, reading, piece, versionOf(channels), whole, covered, 16, effort)], inside);

  it('that changed nothing is safe', () => {
    const figures = judge(photograph);
    for (const { verdict } of [figures.halo, figures.ringing, figures.unproven, figures.colour, figures.grain]) {
      expect(['safe', 'not measurable']).toContain(verdict);
    }
  });

  // As another program would hand it over: recovered under its own soft mask, the rest as it was.
  const mask = {
    ...emptyPrescription().mask,
    operations: [{ kind: 'stroke', mode: 'add', sizePx: 150, featherPercent: 6, points: [60, 96] } as const],
  };
  const masked = decodePiece(
    { ...piece, codes: renderTile(source, planOf('missed-focus', mask), piece, whole, effort).codes },
    whole,
    space,
  );

  it('made honestly under a mask is not damaged where the edge of the mask runs through', () => {
    expect(judge(masked).unproven.value).toBeLessThan(1.5);
  });

  it('made under a mask is damaged where something was painted in', () => {
    const { unproven } = judge(withSpot(masked, 50, 90));
    expect(unproven.verdict).toBe('damaged');
    expect(Math.hypot(unproven.at!.x - 53, unproven.at!.y - 93)).toBeLessThan(10);
  });

  it('that changed nothing but a spot is damaged there, however large its share', () => {
    const painted = photograph.map((plane) => ({ ...plane, data: plane.data.slice() }));
    for (const { data } of painted) {
      for (let y = 80; y < 110; y++) data.fill(y % 6 < 3 ? 0.9 : 0.1, y * SIDE + 80, y * SIDE + 110);
    }
    expect(judge(painted).unproven.verdict).toBe('damaged');
  });

  it('with a spot painted in is damaged there', () => {
    const { unproven } = judge(withSpot(photograph, 70, 100));
    expect(unproven.verdict).toBe('damaged');
    expect(Math.hypot(unproven.at!.x - 73, unproven.at!.y - 103)).toBeLessThan(10);
  });
});
