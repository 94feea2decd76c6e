import { spawn } from 'node:child_process';
import { copyFile, mkdir, mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { STARTER_PRESCRIPTIONS } from '@vitrocept/core';
import { CLI, vitroceptIn } from './vitrocept';
import { discPsf } from '../../core/src/psf/discPsf';
import { convolve, deadLeaves, withNoise } from '../../core/test/synthetic';
import { srgbEncode } from '../../core/src';

let folder: string;

const called = (...args: string[]) => vitroceptIn(folder, ...args);

interface Answer {
  readonly prescription: string;
  readonly frames: readonly {
    readonly file: string;
    readonly state: string;
    readonly result?: string;
    readonly reason?: string;
    readonly method?: string | null;
    readonly amount?: number | null;
  }[];
  readonly ignored: readonly string[];
}

const answerOf = (out: string) => JSON.parse(out) as Answer;
const states = (out: string) => Object.fromEntries(answerOf(out).frames.map(({ file, state }) => [file, state]));

async function saved(name: string, seed: number, radius: number): Promise<void> {
  const sharpOnes = deadLeaves(200, 180, seed);
  const plane = withNoise(radius > 0 ? convolve(sharpOnes, discPsf(radius)) : sharpOnes, 0.004, seed);
  const pixels = Buffer.from(
    Uint8Array.from(plane.data, (value) => Math.round(255 * srgbEncode(Math.min(1, Math.max(0, value))))),
  );
  await sharp(pixels, { raw: { width: plane.width, height: plane.height, channels: 1 } })
    .png()
    .toFile(join(folder, 'shoot', name));
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'vitrocept-round-test-'));
  await mkdir(join(folder, 'shoot'));
  await saved('soft.png', 1, 3);
  await saved('sharp.png', 2, 0);
  await copyFile(join(folder, 'shoot', 'sharp.png'), join(folder, 'shoot', 'soft.jpg'));
  await writeFile(join(folder, 'shoot', 'broken.jpg'), 'no picture');
  await writeFile(join(folder, 'shoot', 'notes.txt'), 'soft light');
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('round', () => {
  it('recovers what is soft as far as safe; a broken frame is named and does not stop the others', async () => {
    const { code, out, errors } = called(
      'round',
      'shoot',
      '--out',
      'out',
      '--use',
      STARTER_PRESCRIPTIONS[3].name,
      '--json',
    );
    expect(code).toBe(1);
    const { prescription, frames, ignored } = answerOf(out);
    expect(prescription).toBe(STARTER_PRESCRIPTIONS[3].name);
    expect(ignored).toEqual(['notes.txt']);
    expect(states(out)).toEqual({
      'broken.jpg': 'failed',
      'sharp.png': 'done',
      'soft.jpg': 'done',
      'soft.png': 'done',
    });
    expect(frames.find(({ file }) => file === 'broken.jpg')!.reason).toMatch(/\.$/);
    const soft = frames.find(({ file }) => file === 'soft.png')!;
    expect(soft.method).toBe('missed-focus');
    expect(soft.amount).toBeGreaterThan(0);
    // Two originals of one name keep their endings, so that neither result takes the other's place.
    expect((await readdir(join(folder, 'out'))).filter((name) => !name.startsWith('.')).sort()).toEqual([
      'sharp.png',
      'soft.jpg.png',
      'soft.png.png',
    ]);
    expect(errors).toMatch(/4 of 4 · /);
    // What is sharp comes out as it went in.
    const codes = (path: string) => sharp(join(folder, path)).raw().toBuffer();
    expect((await codes('out/sharp.png')).equals(await codes('shoot/sharp.png'))).toBe(true);
    expect((await codes('out/soft.png.png')).equals(await codes('shoot/soft.png'))).toBe(false);
  });

  it('begun again does nothing twice, does what changed, and writes over nothing that is not its own', async () => {
    const use = ['--use', STARTER_PRESCRIPTIONS[3].name];
    const place = join(folder, 'out', 'soft.png.png');
    const before = await stat(place);
    await saved('sharp.png', 5, 0);
    await saved('new.png', 6, 0);
    await writeFile(join(folder, 'out', 'new.png'), 'somebody else’s');
    const { code, out } = called('round', 'shoot', '--out', 'out', ...use, '--json');
    expect(code).toBe(1);
    expect(states(out)).toEqual({
      'broken.jpg': 'failed',
      'new.png': 'failed',
      'sharp.png': 'done',
      'soft.jpg': 'unchanged',
      'soft.png': 'unchanged',
    });
    expect((await stat(place)).mtimeMs).toBe(before.mtimeMs);
    expect((await stat(place)).ino).toBe(before.ino);
    expect(await readFile(join(folder, 'out', 'new.png'), 'utf8')).toBe('somebody else’s');
    // Nor under the name of a frame that failed before.
    await writeFile(join(folder, 'out', 'broken.png'), 'mine as well');
    const third = answerOf(called('round', 'shoot', '--out', 'out', ...use, '--json').out);
    expect(third.frames.find(({ file }) => file === 'broken.jpg')!.reason).toMatch(/stays as it is/);
    expect(await readFile(join(folder, 'out', 'broken.png'), 'utf8')).toBe('mine as well');
    await rm(join(folder, 'out', 'broken.png'));
    await rm(join(folder, 'shoot', 'new.png'));
    // A result that somebody changed meanwhile is not this round's any more.
    await writeFile(place, 'retouched');
    const again = answerOf(called('round', 'shoot', '--out', 'out', ...use, '--json').out);
    expect(again.frames.find(({ file }) => file === 'soft.png')!.reason).toMatch(/stays as it is/);
    expect(await readFile(place, 'utf8')).toBe('retouched');
  });

  it('killed in the middle it goes on: no frame is missing, none is there by half', async () => {
    const args = ['round', 'shoot', '--out', 'killed', '--use', 'Clean only', '--jobs', '1', '--json'];
    const child = spawn(process.execPath, [CLI, ...args], {
      env: { ...process.env, INIT_CWD: folder },
      detached: true,
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    await new Promise<void>((resolve) =>
      child.stderr.on('data', (text: Buffer) => /2 of 4/.test(String(text)) && resolve()),
    );
    process.kill(-child.pid!, 'SIGKILL');
    await new Promise((resolve) => child.once('exit', resolve));
    const { out } = called(...args);
    expect(Object.values(states(out)).filter((state) => state === 'unchanged').length).toBeGreaterThan(0);
    const names = (await readdir(join(folder, 'killed'))).filter((name) => /png$/.test(name));
    expect(names.sort()).toEqual(['sharp.png', 'soft.jpg.png', 'soft.png.png']);
    for (const name of names) expect((await sharp(join(folder, 'killed', name)).stats()).entropy).toBeGreaterThan(1);
  });

  it('says what is wrong with how it was called, and does nothing', async () => {
    const wrong: readonly (readonly [readonly string[], RegExp])[] = [
      [['round', 'shoot'], /needs --out/],
      [['round', '--out', 'x'], /needs one folder/],
      [['round', 'shoot', '--out', 'shoot'], /must be another folder/],
      [['round', 'nowhere', '--out', 'x'], /is not a folder/],
      [['round', 'shoot', '--out', 'x', '--use', 'Sing'], /neither a file nor a kept prescription/],
      [['round', 'shoot', '--out', 'x', '--jobs', '0'], /--jobs must be/],
      [['round', 'shoot', '--out', 'x', '--amount', '50'], /--amount belongs to render/],
      [['render', 'shoot', '--out', 'x', '--use', 'y'], /--use belongs to round/],
    ];
    for (const [args, sentence] of wrong) {
      const { code, errors } = called(...args);
      expect(code).toBe(2);
      expect(errors).toMatch(sentence);
    }
  });

  it('takes an exported prescription', async () => {
    await writeFile(join(folder, 'kept.json'), JSON.stringify({ ...STARTER_PRESCRIPTIONS[2], name: 'Mine' }));
    const { out } = called('round', 'shoot', '--out', 'mine', '--use', 'kept.json', '--format', 'jpeg', '--json');
    expect(answerOf(out).prescription).toBe('Mine');
    expect(answerOf(out).frames.find(({ file }) => file === 'soft.png')!.result).toBe('soft.png.jpg');
    await writeFile(join(folder, 'kept.json'), '{"kind":');
    expect(called('round', 'shoot', '--out', 'mine', '--use', 'kept.json').code).toBe(2);
  });
});
