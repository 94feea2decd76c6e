import { describe, expect, it } from 'vitest';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { seededRandom } from '@vitrocept/core';
import { readPicture } from '@vitrocept/files';
import { measureFrame } from '../src/measureFrame';

/** Blurred ground, and in its middle something sharp and glaring: every few px of it are clipped. */
async function glaring(path: string): Promise<void> {
  const [width, height] = [640, 480];
  const { uniform: random } = seededRandom(4);
  const codes = Buffer.alloc(width * height * 3);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 3) {
      const isSubject = Math.hypot(x - 320, y - 240) < 180;
      const ground = 70 + 25 * Math.sin(x / 60) * Math.cos(y / 70) + 4 * random();
      codes.fill(Math.round(isSubject ? (random() < 0.4 ? 255 : 160 + 60 * random()) : ground), i, i + 3);
    }
  }
  await sharp(codes, { raw: { width, height, channels: 3 } })
    .png()
    .toFile(path);
}

describe('measuring a frame of which nobody said where', () => {
  it('reads the whole frame where the subject that was found is too bright to be measured', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'vitrocept-measure-'));
    try {
      const path = join(folder, 'glaring.png');
      await glaring(path);
      const { over, mask, share, reading } = await measureFrame(await readPicture(path), {
        mask: null,
        wholeFrame: false,
      });
      expect({ over, mask, share }).toEqual({ over: 'whole', mask: null, share: null });
      expect(reading.noisePercent).toBeGreaterThan(0);
    } finally {
      await rm(folder, { recursive: true });
    }
  });
});
