import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import type { Plane } from '@vitrocept/core';
import { readPicture } from '../src';
import { bytesField, type Field } from '../src/ifd';
import { DNG } from '../src/raw/dngTags';
import { dngOf, linearScene } from './dngs';
import { temporaryFolder } from './pictures';

const folder = await temporaryFolder();
const SIZE = { width: 160, height: 120 };
const TRUTH = join(import.meta.dirname, '../../demo/truth/marten.jpg');
const scene = await linearScene(TRUTH, { left: 700, top: 500, ...SIZE });

const long = (...values: number[]) => {
  const out = Buffer.alloc(4 * values.length);
  values.forEach((value, i) => out.writeUInt32BE(value, 4 * i));
  return out;
};
const float = (...values: number[]) => {
  const out = Buffer.alloc(4 * values.length);
  values.forEach((value, i) => out.writeFloatBE(value, 4 * i));
  return out;
};
const double = (...values: number[]) => {
  const out = Buffer.alloc(8 * values.length);
  values.forEach((value, i) => out.writeDoubleBE(value, 8 * i));
  return out;
};
/** The open DNG specification, chapter 7: how many; then number, version, flags and length of each. */
const listOf = (...codes: (readonly [id: number, parts: readonly Buffer[]])[]) =>
  Buffer.concat([
    long(codes.length),
    ...codes.flatMap(([id, parts]) => {
      const body = Buffer.concat(parts);
      return [long(id, 0x01030000, 0, body.length), body];
    }),
  ]);
const WHOLE = long(0, 0, SIZE.height, SIZE.width, 0, 1, 1, 1);

const dimmed = (gain: (x: number, y: number) => number): Plane[] =>
  scene.map((plane) => ({
    ...plane,
    data: plane.data.map((value, i) => value / gain(i % SIZE.width, Math.floor(i / SIZE.width))),
  }));

async function opened(name: string, planes: readonly Plane[], rawFields: readonly Field[] = []) {
  const path = join(folder, name);
  await writeFile(path, await dngOf(planes, { rawFields }));
  return readPicture(path);
}

/** Root mean square of what differs, of full scale. */
function off(a: { samples: ArrayLike<number> }, b: { samples: ArrayLike<number> }): number {
  let sum = 0;
  for (let i = 0; i < a.samples.length; i++) sum += (a.samples[i] - b.samples[i]) ** 2;
  return Math.sqrt(sum / a.samples.length) / 65535;
}

it('light that a gain map and a fall-off were written down for comes back', async () => {
  const whole = await opened('whole.dng', scene);
  const across = (x: number) => 1 + (x + 0.5) / SIZE.width;
  const map = [WHOLE, long(1, 2), double(0, 1, 0, 0), long(1), float(1, 2)];
  const [mx, my] = [(SIZE.width - 1) / 2, (SIZE.height - 1) / 2];
  const radial = (x: number, y: number) => 1 + (0.6 * ((x - mx) ** 2 + (y - my) ** 2)) / (mx ** 2 + my ** 2);
  const dim = dimmed((x, y) => across(x) * radial(x, y));
  const plain = await opened('dim.dng', dim);
  const corrected = await opened('corrected.dng', dim, [
    bytesField(DNG.opcodes2, listOf([9, map])),
    bytesField(DNG.opcodes3, listOf([3, [double(0.6, 0, 0, 0, 0, 0.5, 0.5)]])),
  ]);
  expect(off(plain, whole)).toBeGreaterThan(0.02);
  expect(off(corrected, whole)).toBeLessThan(0.002);
});

it('samples that are marked as bad are filled in from around', async () => {
  const whole = await opened('good.dng', scene);
  const hurt = scene.map((plane) => {
    const data = plane.data.slice();
    for (const [x, y] of BAD) data[y * SIZE.width + x] = 1;
    return { ...plane, data };
  });
  const places = BAD.flatMap(([x, y]) => [y, x]);
  const list = listOf([5, [long(0, BAD.length, 0, ...places)]]);
  const filled = await opened('filled.dng', hurt, [bytesField(DNG.opcodes1, list)]);
  expect(off(filled, whole)).toBeLessThan(0.25 * off(await opened('hurt.dng', hurt), whole));
});

const BAD = [
  [20, 30],
  [21, 30],
  [90, 71],
  [140, 100],
] as const;

it('what is not known, or meant for colours that are filled in, is passed over; a list that is cut off is told in a sentence', async () => {
  const whole = await opened('known.dng', scene);
  const warp = [1, [long(1), double(1, 0, 0, 0, 0, 0, 0.5, 0.5)]] as const;
  const later = [9, [WHOLE, long(1, 2), double(0, 1, 0, 0), long(1), float(1, 2)]] as const;
  const passed = await opened('warp.dng', scene, [bytesField(DNG.opcodes3, listOf(warp, [999, [long(7)]], later))]);
  expect(off(passed, whole)).toBe(0);
  const cut = listOf([9, [WHOLE]]);
  // Four thousand million rows of no px each, four hundred times.
  const empty = Array.from({ length: 400 }, () => [0, 5, 0xffffffff, 5]).flat();
  const rows = listOf([5, [long(0, 0, 400, ...empty)]]);
  expect(off(await opened('rows.dng', scene, [bytesField(DNG.opcodes1, rows)]), whole)).toBe(0);
  await expect(opened('cut.dng', scene, [bytesField(DNG.opcodes2, cut)])).rejects.toThrow(/cut off/);
});
