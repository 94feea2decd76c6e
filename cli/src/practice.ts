import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { asLinearSrgb, gradeResult, gradeSentence, srgbEncode, type Plane } from '@vitrocept/core';
import { CHALLENGES, readPicture, takePracticeFrame, truthOfPracticeFrame, type Challenge } from '@vitrocept/files';
import type { PracticeOptions } from './options';
import { fromCaller } from './paths';
import { UsageError } from './usage';

const TRUTHS = fileURLToPath(new URL('../../demo/truth', import.meta.url));

/** Photographs a practice case, or grades what somebody made of it. */
export async function practiceCommand(options: PracticeOptions, print: (text: string) => unknown): Promise<boolean> {
  if (options.act === 'list') {
    for (const { name, told } of CHALLENGES) print(`${name.padEnd(14)} ${told}\n`);
    return true;
  }
  const challenge = CHALLENGES.find(({ name }) => name === options.name);
  if (!challenge) {
    throw new UsageError(`There is no case “${options.name}”: ${CHALLENGES.map(({ name }) => name).join(', ')}.`);
  }
  if (options.act === 'make') return make(challenge, options, print);
  return grade(challenge, fromCaller(options.result), options.json, print);
}

async function make(
  { frame, name, told }: Challenge,
  { out: folder, isMosaic }: Extract<PracticeOptions, { act: 'make' }>,
  print: (text: string) => unknown,
): Promise<boolean> {
  const out = fromCaller(folder);
  await mkdir(out, { recursive: true });
  const place = join(out, isMosaic ? `${name}.dng` : frame.name);
  await writeFile(place, await takePracticeFrame(TRUTHS, { ...frame, isMosaic }), { flag: 'wx' });
  print(`${place}: ${told}\n`);
  return true;
}

async function grade(
  { frame, name }: Challenge,
  result: string,
  json: boolean,
  print: (text: string) => unknown,
): Promise<boolean> {
  const folder = await mkdtemp(join(tmpdir(), 'vitrocept-practice-'));
  try {
    const [truth, photograph] = [join(folder, 'truth.png'), join(folder, frame.name)];
    await writeFile(truth, await truthOfPracticeFrame(TRUTHS, frame));
    await writeFile(photograph, await takePracticeFrame(TRUTHS, frame));
    const [own, known, taken] = await Promise.all([result, truth, photograph].map(encodedPlanes));
    const graded = gradeResult(own, known, taken);
    const sentence = gradeSentence(graded);
    print(json ? `${JSON.stringify({ case: name, ...graded, sentence }, null, 2)}\n` : `${name}: ${sentence}\n`);
    return true;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** sRGB-encoded, 0..1; a grey picture as three alike. */
async function encodedPlanes(path: string): Promise<Plane[]> {
  const { width, height, channels, bits, samples, space } = await readPicture(path);
  const perCode = bits === 8 ? 257 : 1;
  const linear = space.decode.map((table, c) => {
    const data = new Float32Array(width * height);
    for (let i = 0; i < data.length; i++) data[i] = table[samples[i * channels + c] * perCode];
    return { width, height, data };
  });
  return asLinearSrgb(linear, space).map((plane) => ({ ...plane, data: plane.data.map(srgbEncode) }));
}
