import { expect, it } from 'vitest';
import { copySizeFault } from '../../src';

it('a copy that no TIFF can hold is refused before it is rendered', () => {
  // TIFF 6.0, section 2: offsets have 32 bits. 715 megapixels of three 16-bit samples are 4.29e9 bytes.
  expect(copySizeFault({ width: 6000 * 5, height: 4000 * 5 }, 3)).toBeNull();
  expect(copySizeFault({ width: 6000 * 6, height: 4000 * 6 }, 3)).toMatch(/864 megapixels\); 713 can be written/);
  expect(copySizeFault({ width: 6000 * 6, height: 4000 * 6 }, 1)).toBeNull();
});
