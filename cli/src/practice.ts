import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gradeResult, gradeSentence } from '@vitrocept/core';
import {
  CHALLENGES,
  encodedPlanes,
  readPicture,
  takePracticeFrame,
  truthPlanes,
  type Challenge,
} from '@vitrocept/files';
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
    const photograph = join(folder, frame.name);
    await writeFile(photograph, await takePracticeFrame(TRUTHS, frame));
    const known = await truthPlanes(TRUTHS, frame);
    const [own, taken] = await Promise.all(
      [result, photograph].map(async (path) => encodedPlanes(await readPicture(path))),
    );
    const graded = gradeResult(own, known, taken);
    const sentence = gradeSentence(graded);
    print(json ? `${JSON.stringify({ case: name, ...graded, sentence }, null, 2)}\n` : `${name}: ${sentence}\n`);
    return true;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
