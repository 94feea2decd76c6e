import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createPlane, srgbDecode, subjectArea, type Dab, type Plane } from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import sharp from 'sharp';
import { fetchCutOuts, maskCases, type MaskCase } from './maskCases';
import { outlineScore, overlapOf, swept, whiskerRecall } from './maskMeasures';
import { ROOT } from './root';

const DABS = 3;
const CODES = Float32Array.from({ length: 256 }, (_, code) => srgbDecode(code / 255));

/** Intersection over union of the found subject, without help and after up to three scripted dabs. */
export async function maskRates(only: RegExp | null): Promise<void> {
  fetchCutOuts();
  await nodeKernels();
  console.log('picture'.padEnd(26), 'none    1      2      3     outline F   whiskers   s');
  judge(await maskCases(), only, 'mean of composites');
  judge(await demoCases(), only, 'mean of demo frames');
}

function judge(cases: readonly MaskCase[], only: RegExp | null, label: string): void {
  const rows: number[][] = [];
  for (const made of cases) {
    if (only && !only.test(made.name)) continue;
    const dabs: Dab[] = [];
    const row: number[] = [];
    let [outline, whiskers, seconds] = [0, 0, 0];
    for (let k = 0; k <= DABS; k++) {
      const before = process.cpuUsage();
      const found = subjectArea(linearOf(made), dabs);
      const used = process.cpuUsage(before);
      if (k === 0) seconds = (used.user + used.system) / 1e6;
      row.push(overlapOf(found, made));
      outline = outlineScore(found, made);
      whiskers = whiskerRecall(found, made);
      if (k < DABS) dabs.push(nextDab(found, made));
    }
    rows.push([...row, outline, whiskers, seconds]);
    print(made.name, rows[rows.length - 1]);
  }
  if (rows.length > 0)
    print(
      label,
      rows[0].map((_, i) => meanOf(rows.map((row) => row[i]))),
    );
}

/** Of what can be said; NaN where nothing can. */
function meanOf(values: readonly number[]): number {
  const said = values.filter((value) => !Number.isNaN(value));
  return said.reduce((sum, value) => sum + value, 0) / said.length;
}

function print(name: string, row: readonly number[]): void {
  console.log(name.padEnd(26), row.map((value) => value.toFixed(3)).join('  '));
}

async function demoCases(): Promise<MaskCase[]> {
  const frames = JSON.parse(readFileSync(join(ROOT, 'demo', 'frames.json'), 'utf8')) as {
    file: string;
    mask: string;
    /** How far the subject alone moved during the exposure, px. */
    vector_px?: [number, number];
  }[];
  const cases: MaskCase[] = [];
  for (const { file, mask, vector_px: moved } of frames) {
    const picture = sharp(join(ROOT, 'demo', file))
      .toColourspace('srgb')
      .removeAlpha();
    const { data, info } = await picture.raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
    const truth = await sharp(join(ROOT, 'demo', mask))
      .greyscale()
      .resize(info.width, info.height)
      .toColourspace('b-w')
      .raw()
      .toBuffer();
    cases.push({
      name: file.replace(/.*saltmere-/, 'demo '),
      width: info.width,
      height: info.height,
      rgb: data,
      truth: moved ? swept(truth, info.width, info.height, moved) : truth,
    });
  }
  return cases;
}

export function linearOf({ width, height, rgb }: MaskCase): Plane[] {
  return [0, 1, 2].map((c) => {
    const plane = createPlane(width, height);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = CODES[rgb[3 * i + c]];
    return plane;
  });
}

/** A disc of 3 % of the width at the deepest point of the largest wrong region. */
export function nextDab({ data, width, height }: Plane, { truth }: MaskCase): Dab {
  const wrong = Int8Array.from(data, (value, i) => (value > 0.5 ? 1 : 0) - (truth[i] > 127 ? 1 : 0));
  const region = largestRegion(wrong, width);
  const depth = depthsIn(region, width, height);
  const at = region.reduce((best, i) => (depth[i] > depth[best] ? i : best), region[0] ?? 0);
  return { x: at % width, y: Math.floor(at / width), radius: 0.015 * width, isSubject: wrong[at] < 0 };
}

function largestRegion(wrong: Int8Array, width: number): number[] {
  const seen = new Uint8Array(wrong.length);
  let largest: number[] = [];
  for (let start = 0; start < wrong.length; start++) {
    if (seen[start] || wrong[start] === 0) continue;
    const region = [start];
    seen[start] = 1;
    for (let k = 0; k < region.length; k++) {
      const i = region[k];
      const x = i % width;
      for (const j of [x > 0 ? i - 1 : i, x < width - 1 ? i + 1 : i, i - width, i + width]) {
        if (j < 0 || j >= wrong.length || seen[j] || wrong[j] !== wrong[start]) continue;
        seen[j] = 1;
        region.push(j);
      }
    }
    if (region.length > largest.length) largest = region;
  }
  return largest;
}

/** Steps to the outside of a region, by two passes (Rosenfeld & Pfaltz 1966). */
function depthsIn(region: readonly number[], width: number, height: number): Float32Array {
  const depth = new Float32Array(width * height);
  for (const i of region) depth[i] = Infinity;
  const pass = (i: number, neighbours: readonly (readonly [number, number])[]) => {
    if (depth[i] === 0) return;
    for (const [step, length] of neighbours) depth[i] = Math.min(depth[i], (depth[i + step] ?? 0) + length);
  };
  const back = [
    [-1, 1],
    [-width, 1],
    [-width - 1, Math.SQRT2],
    [1 - width, Math.SQRT2],
  ] as const;
  const ahead = back.map(([step, length]) => [-step, length] as const);
  for (let i = 0; i < depth.length; i++) pass(i, back);
  for (let i = depth.length - 1; i >= 0; i--) pass(i, ahead);
  return depth;
}
