import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { wholeOf } from '@vitrocept/core';
import { DEMO_FRAMES, gainsOf, numberOf, opened, planOf, readDemo, recoveredOver } from './demoFrames';
import { ROOT } from './root';

const GOLDEN = join(ROOT, 'files', 'golden', 'demoReadings.json');

/**
 * The demo frames read over their masks, recovered by what was read, and held against their truths. With `write` what
 * was read and the gains become what `files/test` holds the frames to.
 */
export async function demoTable(pattern: string, isWriting: boolean): Promise<void> {
  const rows = existsSync(GOLDEN) ? (JSON.parse(readFileSync(GOLDEN, 'utf8')) as Record<string, unknown>) : {};
  console.log('frame  read as                       round the eye  whole mask');
  for (const frame of DEMO_FRAMES.filter(({ file }) => file.includes(pattern))) {
    const open = await opened(frame);
    const reading = await readDemo(open.picture, open.mask);
    const plan = planOf(reading);
    const after = plan && (await recoveredOver(open.picture, plan, open.mask, wholeOf(open.picture)));
    const gains = after ? gainsOf(frame, open, after) : { eye: 0, subject: 0 };
    const name = `${reading.method ?? 'nothing to recover'} ${reading.blurSizePx.toFixed(1)} px`;
    console.log(
      `${numberOf(frame)}   ${name.padEnd(28)} ${gains.eye.toFixed(2).padStart(10)} ${gains.subject.toFixed(2).padStart(12)}`,
    );
    rows[numberOf(frame)] = { reading, eye: Number(gains.eye.toFixed(3)), subject: Number(gains.subject.toFixed(3)) };
    if (isWriting) writeFileSync(GOLDEN, `${JSON.stringify(rows)}\n`);
  }
}
