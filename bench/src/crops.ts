import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join } from 'node:path';
import sharp from 'sharp';
import { run } from '@vitrocept/cli';
import { ROOT } from './root';

const FRAMES = ['0413', '0415', '0418', '0536', '0703', '0704', '0803'];
const SIDE_PX = 160;
const MAGNIFIED = 2;
const GAP_PX = 8;

interface DemoFrame {
  readonly file: string;
  readonly truth: string;
  readonly mask: string;
  readonly eye: readonly [number, number];
}

/** Writes docs/crops: the eye of seven demo frames at 200 %: as taken, recovered with nothing told, and the truth. */
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
    const panels = await Promise.all([join(demo, file), recovered, join(demo, truth)].map((path) => panel(path, eye)));
    const side = SIDE_PX * MAGNIFIED;
    await sharp({
      create: { width: 3 * side + 2 * GAP_PX, height: side, channels: 3, background: '#8C8C8C' },
    })
      .composite(panels.map((input, i) => ({ input, left: i * (side + GAP_PX), top: 0 })))
      .png()
      .toFile(join(folder, `${number}.png`));
    console.log(`docs/crops/${number}.png`);
  }
  rmSync(results, { recursive: true });
}

async function panel(path: string, [x, y]: readonly [number, number]): Promise<Buffer> {
  const { width, height } = await sharp(path).metadata();
  const left = Math.min(width - SIDE_PX, Math.max(0, x - SIDE_PX / 2));
  const top = Math.min(height - SIDE_PX, Math.max(0, y - SIDE_PX / 2));
  // A second pipeline: one would enlarge before it cuts.
  const cut = await sharp(path)
    .extract({ left, top, width: SIDE_PX, height: SIDE_PX })
    .toColourspace('srgb')
    .removeAlpha()
    .png()
    .toBuffer();
  return sharp(cut)
    .resize(SIDE_PX * MAGNIFIED, SIDE_PX * MAGNIFIED, { kernel: 'nearest' })
    .png()
    .toBuffer();
}
