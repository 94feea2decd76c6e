import { describe, expect, it } from 'vitest';
import { exposureText } from '../src/parts/exposureText';
import { automaticCleaning } from '@vitrocept/core';
import { bytesText, causeSentence, cleaningWords, figureText, limitText, timeLeft, trialLetter } from '../src/words';

describe('words on the page', () => {
  it('a cause with its size, as its family counts it', () => {
    expect(causeSentence('missed-focus', 8.04, 0)).toBe('Missed focus, 8.0 px across');
    expect(causeSentence('straight-movement', 11.9, 149.2)).toBe('Straight movement, 11.9 px at 149°');
    expect(causeSentence('ordinary-softness', 2, 0)).toBe('Ordinary softness, 2.0 px wide');
    expect(causeSentence(null, 0, 0)).toBe('Nothing to recover');
  });

  it('a cleaning with everything that limits it', () => {
    const cleaning = { ...automaticCleaning(null), channelPercents: [40, 100, 100] };
    const kept = cleaning.detailKept.value.toFixed(0);
    expect(cleaningWords(cleaning, null)).toBe(
      `luminance noise 100 %, colour noise 100 %, detail kept ${kept} %, red only 40 %, over the whole frame`,
    );
    expect(cleaningWords({ ...cleaning, channelPercents: [], band: [0, 10, 20, 30] }, 'Head')).toMatch(
      /% *, in a tone band, inside mask “Head”$/,
    );
  });

  it('time left in plain words', () => {
    expect(timeLeft(0.4)).toBe('about a second left');
    expect(timeLeft(42.3)).toBe('about 42 s left');
    expect(timeLeft(200)).toBe('about 3 min left');
    expect(timeLeft(Infinity)).toBe('estimating');
  });

  it('exposure: only what the file says', () => {
    const none = {
      iso: null,
      shutterS: null,
      fNumber: null,
      focalLengthMm: null,
      lens: null,
      camera: null,
      takenAt: null,
    };
    expect(exposureText(none)).toBe('');
    expect(exposureText({ ...none, shutterS: 1 / 500, fNumber: 4.5 })).toBe('1/500 s · f/4.5');
    expect(exposureText({ ...none, shutterS: 2.5, focalLengthMm: 300, lens: 'Quorvane 300 mm' })).toBe(
      '2.5 s · 300 mm · Quorvane 300 mm',
    );
  });

  it('a figure with what it is measured against', () => {
    const figure = { value: 0.93, verdict: 'safe', at: null } as const;
    expect(figureText('unproven', figure)).toBe('0.9');
    expect(limitText('unproven')).toBe('check from 1.0, damaged from 2.0');
    expect(limitText('halo')).toBe('check from 5 %, damaged from 15 %');
    expect(limitText('grain')).toBe('check from ×1.2, damaged from ×1.8');
    expect(figureText('leak', { ...figure, verdict: 'not measurable' })).toBe('–');
  });

  it('sizes and letters', () => {
    expect(bytesText(11_100_000)).toBe('11.1 MB');
    expect(bytesText(5_400)).toBe('5 kB');
    expect([0, 1, 5].map(trialLetter)).toEqual(['A', 'B', 'F']);
  });
});
