import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blurred, discPsf, exposed, gaussianPsf, inner, linePsf, seededRandom, type Psf } from '@vitrocept/core';
import { run } from '@vitrocept/cli';
import sharp from 'sharp';
import { writeGrey, writePicture } from './caseFiles';
import { noiseLine } from './cases';
import { magnified } from './crops';
import { loadScene } from './pictures';
import { ROOT } from './root';

interface Row {
  readonly scene: 'marten' | 'puppet' | 'beetle' | 'card';
  /** Middle of the crop, px of the truth. */
  readonly at: readonly [x: number, y: number];
  readonly psf: Psf;
  readonly noisePercent: number;
}

/**
 * Eight unlike textures of the demo's truths, what a network might invent among them: irises, letters under 3 px,
 * hairs.
 */
const ROWS: readonly Row[] = [
  { scene: 'marten', at: [991, 299], psf: discPsf(3.5), noisePercent: 1 },
  { scene: 'marten', at: [1123, 538], psf: discPsf(3.5), noisePercent: 1 },
  { scene: 'marten', at: [1385, 660], psf: linePsf(10, 60), noisePercent: 1 },
  { scene: 'puppet', at: [934, 490], psf: discPsf(3), noisePercent: 2 },
  { scene: 'puppet', at: [1284, 324], psf: gaussianPsf(1.8), noisePercent: 1 },
  { scene: 'beetle', at: [502, 379], psf: linePsf(10, 20), noisePercent: 1 },
  { scene: 'card', at: [1140, 274], psf: discPsf(3), noisePercent: 1 },
  { scene: 'card', at: [266, 796], psf: discPsf(2.5), noisePercent: 0.5 },
];
const SIDE_PX = 360;
const BORDER_PX = 24;
const SHOWN_PX = 112;
const MAGNIFIED = 2;
const GAP_PX = 6;

/** Writes docs/crops/learned-texture.png: as taken, solver alone, with texture, truth; blur told, at 200 %. */
export async function textureCrops(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-texture-'));
  const cell = SHOWN_PX * MAGNIFIED + GAP_PX;
  const panels = [];
  for (const [row, { scene, at, psf, noisePercent }] of ROWS.entries()) {
    const [x, y] = at.map((middle) => middle - (SIDE_PX >> 1) - BORDER_PX);
    const source = { name: scene, file: `demo/truth/${scene}.jpg`, shrink: 1, x, y };
    const sharpScene = await loadScene(source, SIDE_PX + 2 * BORDER_PX);
    const line = noiseLine(noisePercent);
    const taken = exposed(blurred(sharpScene, psf, BORDER_PX), [line, line, line], seededRandom(row + 1));
    const path = (name: string) => join(folder, name);
    await writePicture(taken, path('taken.png'), null);
    await writePicture(
      sharpScene.map((plane) => inner(plane, BORDER_PX)),
      path('truth.png'),
      null,
    );
    await writeGrey(psf, path('psf.png'));
    for (const texture of ['plain', 'learned']) {
      const asked = ['render', path('taken.png'), '--psf', path('psf.png'), '--whole-frame', '--texture', texture];
      await run([...asked, '--amount', '100', '--out', path(texture), '--replace']);
    }
    const shown = [path('taken.png'), path('plain/taken.png'), path('learned/taken.png'), path('truth.png')];
    for (const [column, file] of shown.entries()) {
      panels.push({ input: await panel(file), left: column * cell, top: row * cell });
    }
    console.log(`${row + 1} of ${ROWS.length}`);
  }
  await sharp({
    create: { width: 4 * cell - GAP_PX, height: ROWS.length * cell - GAP_PX, channels: 3, background: '#8C8C8C' },
  })
    .composite(panels)
    .png()
    .toFile(join(ROOT, 'docs', 'crops', 'learned-texture.png'));
  rmSync(folder, { recursive: true });
}

function panel(path: string): Promise<Buffer> {
  const from = (SIDE_PX - SHOWN_PX) >> 1;
  return magnified(path, { left: from, top: from, width: SHOWN_PX, height: SHOWN_PX }, MAGNIFIED);
}
