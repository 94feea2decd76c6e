import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { FoundFace } from '@vitrocept/core';
import { findFaces as findIn, inspectPicture } from '@vitrocept/files';

/** A portrait in Debian's python3-skimage, 512 × 512 px; by eye the pupils lie at (204, 101) and (247, 103). */
const PORTRAIT = '/usr/lib/python3/dist-packages/skimage/data/astronaut.png';
const PUPILS = { 'right eye': [204, 101], 'left eye': [247, 103] } as const;

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'vitrocept-faces-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const findFaces = async (path: string) =>
  findIn({ ...(await inspectPicture(path)), path: `${path}.samples`, original: path });

function expectPupils(faces: readonly FoundFace[], scale: number) {
  expect(faces).toHaveLength(1);
  for (const [name, [x, y]] of Object.entries(PUPILS)) {
    const eye = faces[0].parts.find(({ part }) => part === name)!;
    expect(Math.hypot(eye.x - x * scale, eye.y - y * scale)).toBeLessThan(6 * scale);
  }
}

it('finds the pupils of a portrait, in px of the frame however large it is, turned by its EXIF or grey', async () => {
  expectPupils(await findFaces(PORTRAIT), 1);
  const large = join(folder, 'large.jpg');
  // Lying on its side with a note that says so: the frame is the upright picture.
  await sharp(PORTRAIT).resize(2048).rotate(270).withMetadata({ orientation: 6 }).jpeg().toFile(large);
  expectPupils(await findFaces(large), 4);
  const grey = join(folder, 'grey.png');
  await sharp(PORTRAIT).greyscale().toColourspace('b-w').png().toFile(grey);
  expectPupils(await findFaces(grey), 1);
});

it('finds nobody where nobody is, and one after the other gives each its own', async () => {
  const field = join(folder, 'field.png');
  await sharp({ create: { width: 300, height: 200, channels: 3, background: '#7a8a55' } })
    .png()
    .toFile(field);
  expect(await findFaces(field)).toEqual([]);
  expectPupils(await findFaces(PORTRAIT), 1);
  expect(await findFaces(field)).toEqual([]);
});
