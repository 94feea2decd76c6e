import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { checkPrescription, CoreError, keyOfPixels, PRESCRIPTION_VERSION, sizeAfter, upToDate } from '../../src';

const STORED = new URL('../../golden/prescriptions/', import.meta.url);
type Saved = { version: number; geometry?: unknown };
const savedOf = (version: number) => JSON.parse(readFileSync(new URL(`${version}.json`, STORED), 'utf8')) as Saved[];

describe('prescriptions saved by an earlier Vitrocept', () => {
  it('of every version there has been are kept for this test', () => {
    const kept = readdirSync(STORED).map((name) => Number(name.replace('.json', '')));
    expect(kept.sort()).toEqual(Array.from({ length: PRESCRIPTION_VERSION }, (_, i) => i + 1));
    for (const version of kept) expect(savedOf(version).every((saved) => saved.version === version)).toBe(true);
  });

  it.each(Array.from({ length: PRESCRIPTION_VERSION }, (_, i) => i + 1))(
    'version %i is taken, and nothing of it is dropped',
    (version) => {
      for (const saved of savedOf(version)) {
        const now = checkPrescription(saved);
        expect(now.version).toBe(PRESCRIPTION_VERSION);
        expect(now).toMatchObject({ ...saved, version: PRESCRIPTION_VERSION });
        expect(checkPrescription(JSON.parse(JSON.stringify(now)))).toEqual(now);
        expect(keyOfPixels(now)).toMatch(/^\w+$/);
      }
    },
  );

  it('version 1 knew no geometry: the finished picture is the whole frame', () => {
    for (const saved of savedOf(1)) {
      expect(saved).not.toHaveProperty('geometry');
      expect(sizeAfter(checkPrescription(saved), { width: 640, height: 480 })).toEqual({ width: 640, height: 480 });
    }
  });

  it('a field that its version did not know is refused', () => {
    const [, full] = savedOf(1);
    expect(() => checkPrescription({ ...full, colour: 1 })).toThrow(CoreError);
    expect(() => checkPrescription({ ...savedOf(3)[1], version: 4 })).toThrow(/version 4/);
  });

  it('what is no prescription is left as it is', () => {
    for (const value of [null, 7, 'text', [], {}, { version: 'two' }, { version: 0.5 }, { version: -3 }]) {
      expect(upToDate(value)).toBe(value);
    }
  });
});
