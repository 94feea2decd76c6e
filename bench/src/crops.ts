import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join } from 'node:path';
import sharp, { type Region as Cut } from 'sharp';
import { run } from '@vitrocept/cli';
import { fetchPictures } from './pictures';
import { ROOT } from './root';
import { TURNING_CASES, turningCase } from './turning';

const FRAMES = ['0413', '0415', '0418', '0536', '0703', '0704', '0803'];
/** Beside an eye, far from the middle of the frame. */
const TURNED_PLACE = [690, 240] as const;
const SIDE_PX = 160;
const MAGNIFIED = 2;
const GAP_PX = 8;

interface DemoFrame {
  readonly file: string;
  readonly truth: string;
  readonly mask: string;
  readonly eye: readonly [number, number];
}

/**
 * Writes docs/crops: the eye of seven demo frames, and a camera that turned, at 200 %: as taken, recovered with nothing
 * told, and the truth.
 */
export async function crops(): Promise<void> {
  const demo = join(ROOT, 'demo');
  const folder = join(ROOT, 'docs', 'crops');
  mkdirSync(folder, { recursive: true });
  const results = mkdtempSync(join(tmpdir(), 'vitrocept-crops-'));
  const frames = JSON.parse(readFileSync(join(demo, 'frames.json'), 'utf8')) as DemoFrame[];
  for (const number of FRAMES) {
    const { file, truth, mask, eye } = frames.find((frame) => frame.file.includes(number))!;
    await run(['render', join(demo, file), '--mask', join(demo, mask), '--out', results]);
    const recovered = join(results, `${basename(file, extname(file))}.png`);
    await writePanels([join(demo, file), recovered, join(demo, truth)], eye, join(folder, `${number}.png`));
  }
  fetchPictures();
  const { file, truthFile } = await turningCase(TURNING_CASES[0], results);
  const mask = join(results, 'whole.png');
  const { width, height } = await sharp(file).metadata();
  await sharp({ create: { width, height, channels: 3, background: '#FFFFFF' } })
    .png()
    .toFile(mask);
  const out = join(results, 'out');
  await run(['render', file, '--mask', mask, '--out', out]);
  await writePanels([file, join(out, basename(file)), truthFile], TURNED_PLACE, join(folder, 'turned.png'));
  rmSync(results, { recursive: true });
}

async function writePanels(paths: readonly string[], place: readonly [number, number], to: string): Promise<void> {
  const panels = await Promise.all(paths.map((path) => panel(path, place)));
  const side = SIDE_PX * MAGNIFIED;
  await sharp({ create: { width: 3 * side + 2 * GAP_PX, height: side, channels: 3, background: '#8C8C8C' } })
    .composite(panels.map((input, i) => ({ input, left: i * (side + GAP_PX), top: 0 })))
    .png()
    .toFile(to);
  console.log(to.slice(ROOT.length + 1));
}

async function panel(path: string, [x, y]: readonly [number, number]): Promise<Buffer> {
  const { width, height } = await sharp(path).metadata();
  const left = Math.min(width - SIDE_PX, Math.max(0, x - SIDE_PX / 2));
  const top = Math.min(height - SIDE_PX, Math.max(0, y - SIDE_PX / 2));
  return magnified(path, { left, top, width: SIDE_PX, height: SIDE_PX }, MAGNIFIED);
}

/** A part of a picture, every px a square of so many. */
export async function magnified(path: string, part: Cut, times: number): Promise<Buffer> {
  // A second pipeline: one would enlarge before it cuts.
  const cut = await sharp(path).extract(part).toColourspace('srgb').removeAlpha().png().toBuffer();
  return sharp(cut)
    .resize(part.width * times, part.height * times, { kernel: 'nearest' })
    .png()
    .toBuffer();
}
