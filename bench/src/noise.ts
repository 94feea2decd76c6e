import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { loadavg, tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  AS_MEASURED,
  cleanChannels,
  exposed,
  filledPlane,
  readNoise,
  seededRandom,
  srgbEncode,
  type CleanOptions,
  type Kernels,
  type Plane,
} from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { noiseLine } from './cases';
import { psnr } from '@vitrocept/core';
import { fetchPictures, loadScene, SCENES } from './pictures';
import { ROOT } from './root';

const SIDE_PX = 384;
/** Scene and noise at mid-tone, %: plain and textured ones at each strength. */
export const NOISE_CASES: readonly (readonly [scene: string, noisePercent: number])[] = [
  ['cat', 1],
  ['marten', 1],
  ['launch', 1],
  ['meadow', 1],
  ['ladybird', 3],
  ['petals', 3],
  ['seed heads', 3],
  ['puppet hair', 3],
  ['coffee', 5],
  ['motorcycle', 5],
  ['weevil', 5],
  ['gravel', 5],
];

export const encodedChannels = (planes: readonly Plane[]): Plane[] =>
  planes.map((plane) => ({ ...plane, data: plane.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))) }));

/** The noise as the program measures it by itself. */
function measured(noisy: readonly Plane[]): CleanOptions {
  const use = filledPlane(noisy[0].width, noisy[0].height, 1);
  const { noise, grain } = readNoise(noisy, use);
  return { ...AS_MEASURED, noise, grain: grain ?? undefined };
}

/** Noise measured, then cleaned, nothing kept. */
export function cleanedByReading(noisy: readonly Plane[], kernels: Kernels): Plane[] {
  return cleanChannels(noisy, measured(noisy), 0, 0, kernels);
}

interface Answer {
  readonly psnr: number;
  readonly seconds: number;
}

/** scikit-image's and OpenCV's cleaners, each at the best parameter of a grid. Encoded channels. */
export function referencesOf(noisy: readonly Plane[], truth: readonly Plane[]): Record<string, Answer> {
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-noise-'));
  const { width, height } = truth[0];
  for (const [name, planes] of [
    ['noisy', noisy],
    ['truth', truth],
  ] as const) {
    const all = new Float32Array(3 * width * height);
    planes.forEach((plane, c) => all.set(plane.data, c * width * height));
    writeFileSync(join(folder, `${name}.f32`), Buffer.from(all.buffer));
  }
  const script = join(ROOT, 'bench', 'noiseReference.py');
  const said = execFileSync('/usr/bin/python3', [script, folder, String(width), String(height)], {
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  rmSync(folder, { recursive: true });
  return JSON.parse(String(said)) as Record<string, Answer>;
}

/** Prints PSNR (sRGB-encoded RGB, 32 px border left out) of every case and the cost beside the references'. */
export async function noiseRates(): Promise<void> {
  fetchPictures();
  const kernels = await nodeKernels();
  const rows: { ours: number; answers: Record<string, Answer>; seconds: number; input: number }[] = [];
  for (const [seed, [name, percent]] of NOISE_CASES.entries()) {
    const scene = await loadScene(
      SCENES.find((source) => source.name === name)!,
      SIDE_PX,
    );
    const line = noiseLine(percent);
    const noisy = exposed(scene, [line, line, line], seededRandom(100 + seed));
    const [encoded, truth] = [noisy, scene].map(encodedChannels);
    const options = measured(noisy);
    cleanChannels(noisy, options, 0, 0, kernels);
    const start = process.cpuUsage();
    const cleaned = cleanChannels(noisy, options, 0, 0, kernels);
    const { user, system } = process.cpuUsage(start);
    const answers = referencesOf(encoded, truth);
    const row = {
      ours: psnr(encodedChannels(cleaned), truth),
      input: psnr(encoded, truth),
      answers,
      seconds: (user + system) / 1e6,
    };
    rows.push(row);
    const others = Object.entries(answers).map(([way, answer]) => `${way} ${answer.psnr.toFixed(2)}`);
    console.log(
      `${`${name} ${percent} %`.padEnd(16)} input ${row.input.toFixed(2)}  Vitrocept ${row.ours.toFixed(2)}  ${others.join('  ')}`,
    );
  }
  const mean = (pick: (row: (typeof rows)[number]) => number) =>
    rows.reduce((sum, row) => sum + pick(row), 0) / rows.length;
  console.log(`\nMean PSNR, and CPU time over ours (cleaning; load ${loadavg()[0].toFixed(1)}):`);
  console.log(`input ${mean((row) => row.input).toFixed(2)}`);
  console.log(`Vitrocept ${mean((row) => row.ours).toFixed(2)}, ${mean((row) => row.seconds).toFixed(3)} s`);
  for (const way of Object.keys(rows[0].answers)) {
    const ratio = mean(({ answers }) => answers[way].seconds) / mean((row) => row.seconds);
    console.log(`${way} ${mean(({ answers }) => answers[way].psnr).toFixed(2)}, ${ratio.toFixed(1)} ×`);
  }
}
