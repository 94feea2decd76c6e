import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  addLocalChange,
  adaptKept,
  areaOperation,
  automaticCleaning,
  automaticRecovery,
  checkKept,
  drawMask,
  emptyPrescription,
  filledPlane,
  isCleanedByItself,
  keepPrescription,
  keptSentence,
  KEPT_WAYS,
  lookReasons,
  STARTER_PRESCRIPTIONS,
  usualWays,
  withCorrection,
  withSafestAmount,
  type FoundFace,
  type KeptWays,
  type MeasuredAnew,
  type Prescription,
  type Reading,
} from '../../src';

const FRAME = { width: 900, height: 600 };
const OTHER = { width: 1800, height: 1200 };

const reading = (method: 'missed-focus' | 'ordinary-softness' | null, blurSizePx: number, noisePercent: number) =>
  ({
    cause: method && { method, blurSizePx, directionDeg: 0 },
    runnerUp: null,
    hidesNoise: false,
    leftAlone: method ? null : 'sharp',
    sizes: [{ x: 10, y: 10, blurSizePx }],
    confidence: 0.9,
    noise: [{ a: noisePercent * 1e-5, b: 0 }],
    grain: null,
    traces: { blocking: 0, overshootPercent: null },
    noisePercent,
    floor: [1e-5],
    clippedWhitePercent: 0,
    clippedBlackPercent: 0,
    signal: 1e-4,
    finestNowPx: 4,
    finestRecoverablePx: 2,
    pile: 'soft',
  }) as Reading;

const kept = acceptReading(reading('missed-focus', 7, 0.8), { kind: 'whole', key: '' });
const stroke = { kind: 'stroke', mode: 'add', sizePx: 40, featherPercent: 10, points: [100, 120] } as const;
/** As somebody left a frame: everything in it is set by hand, so that nothing can be mistaken for what is measured. */
const DONE: Prescription = {
  ...emptyPrescription(),
  reading: kept,
  mask: { ...emptyPrescription().mask, name: 'owl', operations: [stroke] },
  cleaning: { ...automaticCleaning(kept), luminance: { value: 70, auto: false } },
  recovery: {
    ...automaticRecovery('missed-focus', kept, 60),
    blurSizePx: { value: 6.5, auto: false },
    directionDeg: { value: 0, auto: false },
    noiseGuard: { value: 55, auto: false },
    grainKeptPercent: { value: 12, auto: false },
    amount: { value: 62, auto: false },
    trialId: 'a',
  },
  geometry: { crop: { x: 90, y: 60, width: 450, height: 300 }, quarterTurns: 1 },
  trials: [{ ...automaticRecovery('missed-focus', kept, 60), id: 'a' }],
  probes: [{ id: 'p', name: 'eye', x: 5, y: 5 }],
};

const ways = fc.record(
  Object.fromEntries(Object.entries(KEPT_WAYS).map(([part, list]) => [part, fc.constantFrom(...list)])),
) as unknown as fc.Arbitrary<KeptWays>;
const subjectOf = (share: number) =>
  areaOperation(filledPlane(30, 20, share), FRAME, 'add', { kind: 'subject', dabs: [] });
const faceAt = (x: number): FoundFace => ({
  sureness: 0.9,
  parts: [
    { part: 'left eye', x: x + 30, y: 200, rx: 12, ry: 6 },
    { part: 'right eye', x: x - 30, y: 200, rx: 12, ry: 6 },
    { part: 'lips', x, y: 260, rx: 20, ry: 8 },
  ],
});
const measured = fc
  .record({
    method: fc.constantFrom('missed-focus', 'ordinary-softness', null),
    size: fc.double({ min: 2, max: 20, noNaN: true }),
    noise: fc.double({ min: 0.6, max: 4, noNaN: true }),
    share: fc.double({ min: 0.2, max: 1, noNaN: true }),
  })
  .map(({ method, size, noise, share }): MeasuredAnew => ({
    reading: reading(method, size, noise),
    over: 'mask',
    subject: subjectOf(share),
    faces: [faceAt(100 + 500 * share)],
  }));

describe('a kept prescription on another frame', () => {
  it('parts as they are never change, whatever is measured; parts anew follow what is measured', () => {
    fc.assert(
      fc.property(ways, measured, measured, (chosen, first, second) => {
        const keptHere = keepPrescription('x', chosen, FRAME, DONE);
        const [one, two] = [adaptKept(keptHere, FRAME, first), adaptKept(keptHere, FRAME, second)];
        if (chosen.subject === 'features') expect(one.mask.operations[0]).toBe(first.subject);
        else if (chosen.subject !== 'anew') expect(one.mask).toEqual(two.mask);
        else expect(one.mask.operations).toEqual([first.subject]);
        if (chosen.reading === 'as-it-is') expect(one.reading).toEqual(two.reading);
        else expect(one.reading!.blurSizePx).toBe(first.reading!.cause?.blurSizePx ?? 0);
        if (chosen.cleaning === 'as-it-is') expect(one.cleaning).toEqual(DONE.cleaning);
        if (chosen.cleaning === 'left-out') expect(one.cleaning).toBeNull();
        if (chosen.recovery === 'as-it-is') expect({ ...one.recovery, trialId: 'a' }).toEqual(DONE.recovery);
        if (chosen.recovery === 'left-out') expect(one.recovery).toBeNull();
        if (chosen.recovery === 'anew' && chosen.reading === 'anew') {
          expect(one.recovery?.method ?? null).toBe(first.reading!.cause?.method ?? null);
        }
        expect(one.geometry).toEqual(chosen.framing === 'as-it-is' ? DONE.geometry : null);
        expect([one.trials, one.probes]).toEqual([[], []]);
      }),
    );
  });

  it('places keep to the frame’s size', () => {
    const asItIs = { ...usualWays(DONE), subject: 'as-it-is', framing: 'as-it-is' } as const;
    const { mask, geometry } = adaptKept(keepPrescription('x', asItIs, FRAME, DONE), OTHER, {
      reading: reading(null, 0, 1),
      over: 'mask',
      subject: null,
    });
    expect(mask.operations[0]).toMatchObject({ sizePx: 80, points: [200.5, 240.5] });
    expect(geometry!.crop).toEqual({ x: 180, y: 120, width: 900, height: 600 });
  });

  it('a frame that was to be recovered, and is only cleaned, is cleaned by itself; where cleaning was asked for it is not', () => {
    const named = (wanted: RegExp) => STARTER_PRESCRIPTIONS.find(({ name }) => wanted.test(name))!;
    const [both, cleanOnly] = [named(/^Clean, then recover/), named(/^Clean only/)];
    const whatIs = (kept: typeof both, method: 'missed-focus' | null, noise: number) => {
      const anew: MeasuredAnew = { reading: reading(method, 6, noise), over: 'mask', subject: subjectOf(1) };
      return isCleanedByItself(kept, adaptKept(kept, FRAME, anew));
    };
    expect(whatIs(both, null, 1)).toBe(true);
    expect(whatIs(both, null, 0.2)).toBe(false);
    expect(whatIs(both, 'missed-focus', 1)).toBe(false);
    expect(whatIs(cleanOnly, null, 1)).toBe(false);
  });

  it('recovers nothing where the subject is to be found and is not, and says so', () => {
    const [safest] = STARTER_PRESCRIPTIONS;
    const anew: MeasuredAnew = { reading: reading('missed-focus', 8, 1), over: 'whole', subject: null };
    const adapted = adaptKept(safest, FRAME, anew);
    expect(adapted.recovery).toBeNull();
    expect(lookReasons(safest, adapted, anew, null, null)).toEqual(['no-subject']);
  });

  it('a portrait: the subject without the skin of its faces, their features in it; without a face nothing', () => {
    const portrait = STARTER_PRESCRIPTIONS.find(({ ways: { subject } }) => subject === 'features')!;
    const anew: MeasuredAnew = {
      reading: reading('missed-focus', 8, 1),
      over: 'mask',
      subject: subjectOf(1),
      faces: [faceAt(300)],
    };
    const { mask, recovery } = adaptKept(portrait, FRAME, anew);
    expect(recovery?.method).toBe('missed-focus');
    const at = (x: number, y: number) => drawMask(mask.operations, { x, y, width: 1, height: 1 }).data[0];
    // An eye and the lips in, the cheek out, what is not face in.
    expect([at(330, 200), at(300, 260), at(300, 225), at(700, 500)].map(Math.round)).toEqual([1, 1, 0, 1]);
    for (const faces of [[], undefined]) {
      const without = adaptKept(portrait, FRAME, { ...anew, faces });
      expect(without.recovery).toBeNull();
      expect(lookReasons(portrait, without, { ...anew, faces }, null, null)).toEqual(['no-face']);
    }
    // Where no subject stood out the features alone are recovered.
    const alone = adaptKept(portrait, FRAME, { ...anew, over: 'whole', subject: null });
    expect(alone.recovery).not.toBeNull();
    expect(drawMask(alone.mask.operations, { x: 700, y: 500, width: 1, height: 1 }).data[0]).toBe(0);
  });

  it('numbers on Automatic are taken anew, numbers set by hand stay', () => {
    const byHand = DONE.recovery!;
    const recovery = { ...byHand, blurSizePx: { value: 6.5, auto: true } };
    const keptHere = keepPrescription('x', usualWays(DONE), FRAME, { ...DONE, recovery });
    const adapted = adaptKept(keptHere, FRAME, {
      reading: reading('missed-focus', 11, 1),
      over: 'mask',
      subject: subjectOf(1),
    });
    expect(adapted.recovery).toMatchObject({ blurSizePx: { value: 11, auto: true }, noiseGuard: byHand.noiseGuard });
    expect(adapted.recovery!.amount).toEqual(byHand.amount);
  });

  it('wants a look where it was unsure, nothing was safe, or the audit says so', () => {
    const [safest] = STARTER_PRESCRIPTIONS;
    const unsure = { ...reading('missed-focus', 8, 1), confidence: 0.5 };
    const anew: MeasuredAnew = { reading: unsure, over: 'mask', subject: subjectOf(1) };
    const adapted = withSafestAmount(adaptKept(safest, FRAME, anew), 70);
    expect(adapted.recovery!.amount).toEqual({ value: 70, auto: true });
    expect(lookReasons(safest, adapted, anew, 70, 'check')).toEqual(['unsure', 'check']);
    const untold = { ...reading(null, 0, 1), leftAlone: 'untold' } as const;
    const leftAlone = { ...anew, reading: untold };
    expect(lookReasons(safest, adaptKept(safest, FRAME, leftAlone), leftAlone, null, null)).toEqual(['unsure']);
    const sharp = { ...anew, reading: reading(null, 0, 1) };
    expect(lookReasons(safest, adaptKept(safest, FRAME, sharp), sharp, null, null)).toEqual([]);
    const none = withSafestAmount(adapted, 0);
    expect(none.recovery).toBeNull();
    expect(lookReasons(safest, none, anew, 0, null)).toEqual(['nothing-safe']);
  });
});

describe('kept prescriptions', () => {
  it('come back from their file as they were', () => {
    fc.assert(
      fc.property(ways, (chosen) => {
        const one = keepPrescription('Owls at dusk', chosen, FRAME, DONE);
        expect(checkKept(JSON.parse(JSON.stringify(one)))).toEqual(JSON.parse(JSON.stringify(one)));
      }),
      { numRuns: 20 },
    );
  });

  it('what is none, or of a later version, or holds what nobody knows, is refused in a sentence', () => {
    const one = JSON.parse(JSON.stringify(STARTER_PRESCRIPTIONS[0])) as Record<string, unknown>;
    expect(() => checkKept({})).toThrow('This is not a kept prescription.');
    expect(() => checkKept(null)).toThrow('This is not a kept prescription.');
    expect(() => checkKept({ ...one, version: 9 })).toThrow('has version 9');
    expect(() => checkKept({ ...one, more: 1 })).toThrow(/more/);
    expect(() => checkKept({ ...one, ways: { ...(one.ways as object), amount: 'anew' } })).toThrow(/ways\.amount/);
    expect(() => checkKept({ ...one, prescription: { version: 2 } })).toThrow(/Not a valid prescription/);
    expect(() => checkKept({ ...one, name: ' ' })).toThrow(/name/);
  });

  it('say what they do', () => {
    expect(STARTER_PRESCRIPTIONS.map(keptSentence)).toEqual([
      'Recovers the subject of each frame from the blur measured on it, as far as the audit finds it safe.',
      'Cleans as much noise as each frame has and recovers the subject of each frame from the blur measured on it, as far as the audit finds it safe.',
      'Cleans as much noise as each frame has.',
      'Recovers all of each frame from the blur measured on it, as far as the audit finds it safe.',
      'Recovers the subject of each frame (of faces the features, not the skin) from the blur measured on it, as far as the audit finds it safe.',
      'Recovers the subject of each frame by Edge contrast, measured anew where on Automatic, at 50 %.',
      'Cleans noise with the settings kept.',
    ]);
    for (const one of STARTER_PRESCRIPTIONS) expect(checkKept(JSON.parse(JSON.stringify(one)))).toBeTruthy();
  });
});

describe('kept before there were corrections', () => {
  it('is taken, and corrects and finishes nothing', () => {
    const [one] = STARTER_PRESCRIPTIONS;
    const { corrections: _, finishing: __, ...first } = one.ways;
    const kept = checkKept(JSON.parse(JSON.stringify({ ...one, version: 1, ways: first })));
    expect(kept).toEqual(one);
    expect(() => checkKept({ ...one, ways: first })).toThrow(/Not a valid kept prescription/);
  });

  it('corrections and finishing are kept each on their own, local changes laid on the new frame’s size', () => {
    const lit = withCorrection(DONE, 'exposureEv', 1);
    const oval = { kind: 'radial', mode: 'add', x: 90, y: 60, rx: 30, ry: 20, featherPercent: 0 } as const;
    const done = addLocalChange(lit, 'a', [oval], () => 'a');
    const anew = { reading: reading(null, 0, 1), over: 'mask', subject: null } as const;
    const all = adaptKept(keepPrescription('x', usualWays(done), FRAME, done), OTHER, anew);
    expect(all.corrections).toEqual(done.corrections);
    expect(all.finishing!.localChanges[0].mask.operations[0]).toMatchObject({ rx: 60, ry: 40 });
    const less = adaptKept(
      keepPrescription('x', { ...usualWays(done), corrections: 'left-out' }, FRAME, done),
      OTHER,
      anew,
    );
    expect(less).not.toHaveProperty('corrections');
    expect(less.finishing).toBeDefined();
  });
});
