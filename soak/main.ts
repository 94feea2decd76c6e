import { flatMemory } from './flatMemory';
import { hostileFiles } from './hostileFiles';
import { hostileRequests } from './hostileRequests';
import { kills } from './kills';
import { large } from './large';
import { manyFrames } from './manyFrames';
import type { Outcome } from './outcome';

/** Each part with how often it tries in full and in the short run. */
const PARTS: Record<string, { run(count: number, only?: string): Promise<Outcome>; full: number; short: number }> = {
  kills: { run: (count) => kills(count), full: 50, short: 25 },
  files: { run: hostileFiles, full: 2000, short: 300 },
  requests: { run: (count) => hostileRequests(count), full: 2000, short: 300 },
  large: { run: large, full: 1, short: 0 },
  flat: { run: flatMemory, full: 200, short: 0 },
  many: { run: manyFrames, full: 2000, short: 0 },
};

const [what = 'all', only, times] = process.argv.slice(2);
if (what !== 'all' && what !== 'short' && !(what in PARTS)) {
  console.error(`npm run soak [-- short | ${Object.keys(PARTS).join(' | ')} | files KIND COUNT]`);
  process.exit(2);
}
for (const [name, { run, full, short }] of Object.entries(PARTS)) {
  const count = what === 'short' ? short : what === 'all' ? full : what === name ? Number(times ?? full) : 0;
  if (count === 0) continue;
  const { tried, held, problems } = await run(count, only);
  for (const problem of problems) console.log(`  ${problem}`);
  console.log(`${name}: ${tried} tried, ${held} held`);
  if (held < tried) process.exitCode = 1;
}
