import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { seededRandom } from '@vitrocept/core';
import sharp from 'sharp';
import { ROOT } from './root';

/** A picture whose subject is known: a cut-out over a background that is out of focus. 8-bit sRGB, row by row. */
export interface MaskCase {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly rgb: Uint8Array;
  /** Share of every pixel that is the subject's, 0..255. */
  readonly truth: Uint8Array;
}

const STORE = join(ROOT, 'bench', '.pictures');
const STAMPS = join(STORE, 'usr/share/tuxpaint/stamps/animals');
const NATURE = join(STORE, 'usr/share/backgrounds/mate/nature');
const CUT_OUTS = [
  'mammals/rodents/squirrel',
  'mammals/rodents/rabbit',
  'mammals/rodents/mouse',
  'mammals/ferret',
  'mammals/rodents/marmot',
  'mammals/badger',
  'mammals/dogs/fox',
  'mammals/dogs/dog',
  'mammals/cats/tiger',
  'mammals/deer/doe',
  'mammals/apes/tamarin_emperor',
  'mammals/bovines/sheep',
  'mammals/bears/european-bear',
  'birds/owl',
  'birds/magpie',
  'birds/duck',
  'birds/pelican',
  'birds/rooster',
  'birds/lark',
  'insects/hornet',
  'insects/grasshopper',
  'insects/hoverfly',
  'amphibians/frog',
  'lizards/iguana',
];
const SIZE = { width: 1200, height: 800 };

/** Fetches and unpacks the cut-outs once; nothing of them is installed or kept in the project's history. */
export function fetchCutOuts(): void {
  mkdirSync(STORE, { recursive: true });
  if (existsSync(STAMPS)) return;
  const name = 'tuxpaint-stamps-default';
  execFileSync('apt-get', ['-o', 'APT::Sandbox::User=root', 'download', name], { cwd: STORE, stdio: 'ignore' });
  const file = readdirSync(STORE).find((entry) => entry.startsWith(`${name}_`));
  execFileSync('dpkg-deb', ['-x', join(STORE, file!), STORE]);
}

/** A second sharp thing in the frame, which is not meant: another animal, or a strip of wood from top to bottom. */
async function withDistractor(rgb: Uint8Array, truth: Uint8Array, i: number): Promise<void> {
  const { width, height } = SIZE;
  const random = seededRandom(i + 7001);
  const isTrunk = i % 2 === 0;
  const source = isTrunk
    ? sharp(join(NATURE, 'Wood.jpg')).rotate(90).resize(170, height, { fit: 'cover' }).ensureAlpha()
    : sharp(join(STAMPS, `${CUT_OUTS[(i + 5) % CUT_OUTS.length]}.png`))
        .ensureAlpha()
        .resize(460, 380, { fit: 'inside' });
  const { data, info } = await source.raw().toBuffer({ resolveWithObject: true });
  const isLeft = random.uniform() < 0.5;
  const left = isLeft ? Math.round(60 * random.uniform()) : width - info.width - Math.round(60 * random.uniform());
  const top = isTrunk ? 0 : Math.round((height - info.height) * random.uniform());
  for (let y = 0; y < info.height; y++) {
    for (let x = 0; x < info.width; x++) {
      const [from, to] = [4 * (y * info.width + x), (y + top) * width + x + left];
      // The subject stands before it.
      const alpha = (data[from + 3] / 255) * (1 - truth[to] / 255);
      for (let c = 0; c < 3; c++) rgb[3 * to + c] = Math.round(alpha * data[from + c] + (1 - alpha) * rgb[3 * to + c]);
    }
  }
}

/** The seeded composites: every third softened, every third noisy. */
export async function maskCases(hasDistractor = false): Promise<MaskCase[]> {
  const backgrounds = readdirSync(NATURE)
    .filter((name) => name.endsWith('.jpg'))
    .sort();
  const cases: MaskCase[] = [];
  for (const [i, cutOut] of CUT_OUTS.entries()) {
    const random = seededRandom(i + 101);
    const { width, height } = SIZE;
    const behind = await sharp(join(NATURE, backgrounds[i % backgrounds.length]))
      .resize(width, height, { fit: 'cover' })
      .blur(6 + 8 * random.uniform())
      .removeAlpha()
      .raw()
      .toBuffer();
    const share = 0.45 + 0.35 * random.uniform();
    const stamp = sharp(join(STAMPS, `${cutOut}.png`))
      .ensureAlpha()
      .resize(Math.round(0.9 * share * width), Math.round(share * height), { fit: 'inside' });
    const { data: raw, info } = await stamp.raw().toBuffer({ resolveWithObject: true });
    const left = Math.round((width - info.width) * (0.2 + 0.6 * random.uniform()));
    const top = Math.round((height - info.height) * (0.3 + 0.6 * random.uniform()));
    const truth = new Uint8Array(width * height);
    const rgb = new Uint8Array(behind);
    for (let y = 0; y < info.height; y++) {
      for (let x = 0; x < info.width; x++) {
        const from = 4 * (y * info.width + x);
        const to = (y + top) * width + x + left;
        const alpha = raw[from + 3] / 255;
        truth[to] = raw[from + 3];
        for (let c = 0; c < 3; c++) rgb[3 * to + c] = Math.round(alpha * raw[from + c] + (1 - alpha) * rgb[3 * to + c]);
      }
    }
    if (hasDistractor) await withDistractor(rgb, truth, i);
    let photographed: Uint8Array = rgb;
    if (i % 3 === 1) {
      photographed = await sharp(rgb, { raw: { width, height, channels: 3 } })
        .blur(1.5 + 1.5 * random.uniform())
        .raw()
        .toBuffer();
    } else if (i % 3 === 2) {
      const sigma = 6 + 8 * random.uniform();
      photographed = rgb.map((value) => Math.min(255, Math.max(0, Math.round(value + sigma * random.normal()))));
    }
    cases.push({
      name: `${cutOut.split('/').pop()}${['', ', soft', ', noisy'][i % 3]}`,
      ...SIZE,
      rgb: photographed,
      truth,
    });
  }
  return cases;
}
