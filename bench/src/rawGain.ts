import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { asLinearSrgb, psnr, ssim, type Plane } from '@vitrocept/core';
import {
  practiceFrameAt,
  readPicture,
  srgbPixels,
  takePracticeFrame,
  encodedPlanes,
  truthPlanes,
  type DecodedPicture,
  type PracticeFrame,
} from '@vitrocept/files';
import { ROOT } from './root';

const TRUTHS = join(ROOT, 'demo', 'truth');
/** The quality cameras write. Common practice, no source. */
const CAMERA_QUALITY = 93;

type Fault = readonly [fault: PracticeFrame['fault'], method: string, blurPx: number, iso: number];

const FAULTS: readonly Fault[] = [
  ['missed-focus', 'missed-focus', 5, 400],
  ['missed-focus', 'missed-focus', 7, 3200],
  ['softness', 'ordinary-softness', 3.2, 200],
];
const SCENES = [0, 1, 2, 3];
const FIRST_SEED = 2801;

/**
 * The same photographs recovered from the sensor's numbers and from the JPEG a camera would make of them: colours
 * filled in alike, sRGB, compressed. The blur is told, so that only what the file holds differs.
 */
export async function rawGain(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'vitrocept-raw-'));
  const gains: number[] = [];
  try {
    for (const [fault, method, blurPx, iso] of FAULTS) {
      for (const scene of SCENES) {
        const seed = FIRST_SEED + gains.length;
        const frame = practiceFrameAt(scene, { name: 'x', fault, blurPx, iso, seed });
        const [raw, jpeg] = ['raw.dng', 'jpeg.jpg'].map((name) => join(folder, name));
        await writeFile(raw, await takePracticeFrame(TRUTHS, { ...frame, isMosaic: true }));
        await writeFile(jpeg, await asCameraJpeg(await readPicture(raw)));
        render([raw, jpeg], folder, method, blurPx);
        const known = await truthPlanes(TRUTHS, frame);
        const [before, fromRaw, fromJpeg] = await Promise.all(
          [raw, join(folder, 'raw.png'), join(folder, 'jpeg.png')].map(async (path) =>
            encodedPlanes(await readPicture(path)),
          ),
        );
        gains.push(psnr(fromRaw, known) - psnr(fromJpeg, known));
        const told = [before, fromJpeg, fromRaw].map((planes) => `${psnr(planes, known).toFixed(2)}`).join(' → ');
        console.log(
          `${method} ${blurPx} px, ISO ${iso}, scene ${scene}: as taken → from JPEG → from raw: ${told} dB, ` +
            `SSIM ${ssim(fromJpeg, known).toFixed(3)} → ${ssim(fromRaw, known).toFixed(3)}`,
        );
      }
    }
    const mean = gains.reduce((sum, gain) => sum + gain, 0) / gains.length;
    console.log(`raw over JPEG: ${mean.toFixed(2)} dB in the mean, ${Math.min(...gains).toFixed(2)} at least`);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function asCameraJpeg(picture: DecodedPicture): Promise<Buffer> {
  const { pixels, width, height } = srgbPixels(asLinearSrgb(linear(picture), picture.space));
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: CAMERA_QUALITY, chromaSubsampling: '4:2:0' })
    .toBuffer();
}

function render(files: readonly string[], out: string, method: string, blurPx: number): void {
  const told = ['--method', method, '--blur-size', String(blurPx), '--whole-frame', '--replace'];
  const program = join(ROOT, 'dist', 'node', 'cli.js');
  execFileSync('node', [program, 'render', ...files, '--out', out, '--format', 'png16', ...told], { stdio: 'pipe' });
}

function linear({ samples, channels, bits, width, height, space }: DecodedPicture): Plane[] {
  const perCode = bits === 8 ? 257 : 1;
  return space.decode.map((table, c) => {
    const data = new Float32Array(width * height);
    for (let i = 0; i < data.length; i++) data[i] = table[samples[i * channels + c] * perCode];
    return { width, height, data };
  });
}
