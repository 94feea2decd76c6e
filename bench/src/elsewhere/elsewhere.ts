import { fork } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import type { Verdict } from './judge';
import { PARTS, fetchScenes, type Part } from './scenes';

export interface ElsewhereWish {
  readonly only?: string;
  readonly told: boolean;
  readonly masked: boolean;
  readonly round: number;
  readonly json?: string;
}

/** Recovers all cases of a part, shared out between the cores, and prints what came of them. */
export async function elsewhere(part: string, { json, ...wish }: ElsewhereWish): Promise<void> {
  if (!isPart(part)) throw new Error(`There is no part “${part}”: ${PARTS.join(', ')}.`);
  fetchScenes(part);
  const of = availableParallelism();
  const verdicts: Verdict[] = [];
  await Promise.all(
    Array.from({ length: of }, (_, share) =>
      shared({ part, ...wish, share, of }, (verdict) => {
        verdicts.push(verdict);
        console.log(lineOf(verdict));
      }),
    ),
  );
  console.log(`\n${part}, round ${wish.round}`);
  for (const line of summary(verdicts)) console.log(line);
  if (json) writeFileSync(json, JSON.stringify(verdicts, null, 1));
}

const isPart = (part: string): part is Part => (PARTS as readonly string[]).includes(part);

function shared(wish: object, found: (verdict: Verdict) => void): Promise<void> {
  const child = fork(fileURLToPath(new URL('./share.ts', import.meta.url)), [JSON.stringify(wish)], {
    execArgv: ['--import', 'tsx'],
  });
  child.on('message', (verdict) => found(verdict as Verdict));
  return new Promise((resolve, reject) => {
    child.on('exit', (code) => (code === 0 ? resolve() : reject(new Error(`a share of the cases ended with ${code}`))));
  });
}

const gainOf = ({ blind, input }: Verdict) => blind[0] - input[0];
const isRight = ({ cause, said }: Verdict) => cause === said;

function lineOf(verdict: Verdict): string {
  const { name, said, saidSizePx, confidence, input, blind, told, cpuSeconds } = verdict;
  const gain = gainOf(verdict);
  return [
    isRight(verdict) ? ' ' : 'x',
    gain < -0.3 ? '!' : ' ',
    name.padEnd(42),
    `${said} ${saidSizePx.toFixed(1)} ${Math.round(100 * confidence)}%`.padEnd(30),
    `${input[0].toFixed(2)} → ${blind[0].toFixed(2)} (${gain >= 0 ? '+' : ''}${gain.toFixed(2)})`,
    `SSIM ${input[1].toFixed(3)} → ${blind[1].toFixed(3)}`,
    told ? `told ${told[0].toFixed(2)}` : '',
    `${cpuSeconds.toFixed(1)} s`,
  ].join(' ');
}

const GROUPS: readonly (readonly [name: string, holds: (verdict: Verdict) => boolean])[] = [
  ['all blurred', ({ cause }) => cause !== 'none'],
  ['missed focus', ({ cause }) => cause === 'missed-focus'],
  ['movement', ({ cause }) => cause === 'straight-movement'],
  ['shake', ({ cause }) => cause === 'camera-shake'],
  ['softness', ({ cause }) => cause === 'ordinary-softness'],
  ['not blurred', ({ cause }) => cause === 'none'],
  ['noise only', ({ cause, noisePercent }) => cause === 'none' && noisePercent >= 1],
];

function summary(verdicts: readonly Verdict[]): string[] {
  const mean = (of: readonly Verdict[], pick: (verdict: Verdict) => number) =>
    of.reduce((sum, verdict) => sum + pick(verdict), 0) / of.length;
  const rows = GROUPS.flatMap(([name, holds]) => {
    const of = verdicts.filter(holds);
    if (of.length === 0) return [];
    const pair = (pick: (verdict: Verdict) => readonly [number, number]) =>
      `${mean(of, (verdict) => pick(verdict)[0]).toFixed(2)} / ${mean(of, (verdict) => pick(verdict)[1]).toFixed(3)}`;
    const told = of.every(({ told }) => told) ? `, told ${pair(({ told }) => told!)}` : '';
    return [
      `${name.padEnd(14)} ${of.length} cases: ${pair(({ input }) => input)} → ${pair(({ blind }) => blind)}${told}` +
        `, cause right ${of.filter(isRight).length}, worst ${Math.min(...of.map(gainOf)).toFixed(2)} dB` +
        `, worse by over 0.3 dB: ${of.filter((verdict) => gainOf(verdict) < -0.3).length}`,
    ];
  });
  return [...rows, `cause right ${verdicts.filter(isRight).length} of ${verdicts.length}`, ...confidenceRows(verdicts)];
}

const STEPS = [0, 0.5, 0.6, 0.7, 0.8, 0.9, 0.97, 1.01];

/** How often readings that said so were right. */
function confidenceRows(verdicts: readonly Verdict[]): string[] {
  return STEPS.slice(1).flatMap((to, i) => {
    const of = verdicts.filter(({ confidence }) => confidence >= STEPS[i] && confidence < to);
    if (of.length === 0) return [];
    const right = of.filter(isRight).length;
    return [
      `said ${Math.round(100 * STEPS[i])}–${Math.round(100 * Math.min(1, to))} %: ${right} of ${of.length} right`,
    ];
  });
}
