import { describe, expect, it } from 'vitest';
import { neutralCorrections } from '@vitrocept/core';
import { lensSentences, withLens } from '../src/corrections/measuredLens';

const FOUND = { fallOff: 23.4, distortion: -2.25, fringes: { red: 0.0523, blue: -0.004 } };

describe('the lens measured', () => {
  it('is set as far as it was told, and said', () => {
    expect(withLens(neutralCorrections(), FOUND)).toMatchObject({
      fallOffPercent: { value: 23, auto: true },
      distortionPercent: { value: -2.2, auto: true },
      redFringePercent: { value: 0.05, auto: true },
      blueFringePercent: { value: 0, auto: true },
    });
    expect(lensSentences(FOUND)).toBe('Fall-off 23 %. Distortion -2.3 %. Fringes: red 0.050 %, blue 0.000 %.');
  });

  it('what the picture does not tell stays as it was set by hand, and that is said', () => {
    const byHand = { ...neutralCorrections(), fallOffPercent: { value: 12, auto: false } };
    const untold = { fallOff: null, distortion: null, fringes: null };
    expect(withLens(byHand, untold)).toEqual(byHand);
    expect(lensSentences(untold)).toMatch(/Fall-off cannot be told .* Too few long straight edges/);
    expect(lensSentences({ fallOff: 0, distortion: 0, fringes: { red: 0, blue: 0 } })).toBe(
      'No fall-off. Straight edges are straight. No fringes worth resampling.',
    );
  });
});
