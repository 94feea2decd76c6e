import { expect, it } from 'vitest';
import { TABLE } from './demoEyes';
import { DEMO_FRAMES, numberOf, opened, readDemo } from '../../bench/src/demoFrames';

/** A new Reading says what the stored one says: a file each, since one takes half a minute. */
export function holdReading(number: string): void {
  it(`${number}, read over its mask: cause, size and direction are those of the table`, async () => {
    const frame = DEMO_FRAMES.find((one) => numberOf(one) === number)!;
    const { picture, mask } = await opened(frame);
    const found = await readDemo(picture, mask);
    const { reading } = TABLE[number];
    expect(found.method).toBe(reading.method);
    expect(Math.abs(found.blurSizePx - reading.blurSizePx)).toBeLessThan(0.5);
    expect(Math.abs(found.directionDeg - reading.directionDeg)).toBeLessThan(1.5);
    expect(found.measured.pile).toBe(reading.measured.pile);
  });
}
