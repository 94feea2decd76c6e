import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { loadavg } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import {
  acceptReading,
  AS_MEASURED,
  auditTile,
  automaticRecovery,
  cleanChannels,
  colourSpaceOf,
  createComplex,
  discPsf,
  DRAFT_EFFORT,
  emptyPrescription,
  encodeChannels,
  exposed,
  filledPlane,
  FINAL_EFFORT,
  recover,
  seededRandom,
  solveTile,
  takeReading,
  TILE_PX,
  type CodePiece,
  type Evidence,
  type Kernels,
  type Plane,
  REC709_WEIGHTS,
} from '@vitrocept/core';
import { nodeKernels } from '@vitrocept/files';
import { makeCase, noiseLine, RECIPES } from './cases';
import { fetchPictures, loadScene, SCENES } from './pictures';
import { ROOT } from './root';

interface Contest {
  readonly name: string;
  /** What the reference process is asked to do; null where there is none. */
  readonly reference: string | null;
  run(): void;
}

export interface SpeedRow {
  readonly name: string;
  readonly reference: string | null;
  /** Reference's CPU time over ours, medians; null without a reference. */
  readonly ratio: number | null;
  readonly seconds: number;
  readonly rounds: number;
  readonly load: number;
}

const ROUNDS = 5;

/** Times our work and the references' in turn, in one run, by CPU time; prints ratios and the load average. */
export async function speed(jsonFile: string | null): Promise<void> {
  fetchPictures();
  const reference = referenceProcess();
  const rows: SpeedRow[] = [];
  console.log(
    'work'.padEnd(58),
    'reference'.padEnd(30),
    'ratio'.padStart(7),
    'our CPU s'.padStart(10),
    'load'.padStart(6),
  );
  for (const contest of await contests(await nodeKernels())) {
    const row = await timed(contest, reference.ask);
    rows.push(row);
    const ratio = row.ratio === null ? '–' : `${row.ratio.toFixed(2)} ×`;
    console.log(
      row.name.padEnd(58),
      (row.reference ?? '–').padEnd(30),
      ratio.padStart(7),
      row.seconds.toFixed(4).padStart(10),
      row.load.toFixed(2).padStart(6),
    );
  }
  reference.end();
  if (jsonFile) writeFileSync(jsonFile, `${JSON.stringify(rows, null, 2)}\n`);
}

async function timed({ name, reference, run }: Contest, ask: (work: string) => Promise<number>): Promise<SpeedRow> {
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round <= ROUNDS; round++) {
    const before = process.cpuUsage();
    run();
    const { user, system } = process.cpuUsage(before);
    const answer = reference ? await ask(reference) : 0;
    // The first round only warms up.
    if (round === 0) continue;
    ours.push((user + system) / 1e6);
    theirs.push(answer);
  }
  const seconds = median(ours);
  const ratio = reference === null ? null : median(theirs) / seconds;
  return { name, reference, ratio, seconds, rounds: ROUNDS, load: loadavg()[0] };
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1];
}

async function contests(kernels: Kernels): Promise<Contest[]> {
  const random = seededRandom(7);
  const noisy = (side: number): Plane => {
    const plane = filledPlane(side, side, 0);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = 0.2 + 0.5 * random.uniform();
    return plane;
  };
  const colour = [noisy(1024), noisy(1024), noisy(1024)];
  const psf = discPsf(6.5);
  const evidence = (planes: readonly Plane[]): Evidence => ({
    blurred: planes,
    weight: planes.map(({ width, height }) => filledPlane(width, height, 1)),
    clipped: null,
  });
  const solve = (planes: readonly Plane[], iterations: number) => () =>
    void kernels.deconvolve(evidence(planes), psf, { lambda: 1e-3, iterations, dataPenalty: 0.2 });
  const lines = colour.map(() => noiseLine(3));
  const grainy = exposed(
    await loadScene(
      SCENES.find(({ name }) => name === 'puppet face')!,
      1024,
    ),
    lines,
    random,
  );
  const enough = `${FINAL_EFFORT.iterations} iterations`;
  const shaken = await caseOf(/shake path 15 coffee/);
  const focus = await caseOf(/disc 3 cat/);
  return [
    ...[512, 1024, 2048].map((side) => fftPair(kernels, noisy(side))),
    {
      name: `deconvolution, gradient prior, ${enough}, 1024²`,
      reference: RL,
      run: solve([colour[0]], FINAL_EFFORT.iterations),
    },
    { name: 'the same in colour, one prior', reference: `${RL} colour`, run: solve(colour, FINAL_EFFORT.iterations) },
    {
      name: 'luminance and colour cleaning, 1024² RGB',
      reference: 'fastNlMeansDenoisingColored 1024',
      run: () => void cleanChannels(grainy, { noise: lines, ...AS_MEASURED }, 0, 0, kernels),
    },
    {
      name: `one Wall cell, 320² with border, ${enough}`,
      reference: null,
      run: solve([noisy(320)], FINAL_EFFORT.iterations),
    },
    tileContest('recovery of a tile, 512² RGB', null, focus, kernels, false),
    tileContest('the same and its audit', null, focus, kernels, true),
    cellsContest('eight Wall cells of one trial, 256² each: drafts after a change', focus, kernels, 'draft'),
    cellsContest('the same: finals, audited, after a change', focus, kernels, 'final'),
    cellsContest('the same, seen for the first time', focus, kernels, 'first'),
    { name: 'Reading of a missed focus, 512² RGB', reference: null, run: () => void reading(focus, kernels) },
    { name: 'Reading of a camera shake, 512² RGB', reference: null, run: () => void reading(shaken, kernels) },
    { name: 'Reading and recovery, missed focus, 512² RGB', reference: null, run: () => everything(focus, kernels) },
  ];
}

/** The frame with its cause recovered, everything Automatic. */
function focusPlan(channels: readonly Plane[], kernels: Kernels) {
  const { width, height } = channels[0];
  const whole = { x: 0, y: 0, width, height };
  const space = colourSpaceOf(null, 3);
  const piece: CodePiece = { region: whole, channels: 3, codes: encodeChannels(channels, space) };
  const accepted = acceptReading(reading(channels, kernels), { kind: 'centre', key: '' });
  const recovery = { ...automaticRecovery(accepted.method!, accepted, 100), trialId: null };
  return {
    source: { frame: whole, space },
    plan: { ...emptyPrescription(), reading: accepted, recovery },
    piece,
    whole,
  };
}

/** What a final tile of the Wall costs: its recovery, or that and the audit of it. */
function tileContest(
  name: string,
  reference: string | null,
  channels: readonly Plane[],
  kernels: Kernels,
  audits: boolean,
): Contest {
  const { source, plan, piece, whole } = focusPlan(channels, kernels);
  const effort = { ...FINAL_EFFORT, kernels };
  return {
    name,
    reference,
    run() {
      // A piece of its own: nothing of it was worked out before.
      const fresh = { ...piece };
      const solved = solveTile(source, plan, fresh, whole, effort)!;
      if (audits) auditTile(source, plan, fresh, whole, solved, 16, effort);
    },
  };
}

/**
 * What one trial costs at eight probes, on one core; the page has at least two at work. After a change of a setting
 * what follows from the photograph alone is known.
 */
function cellsContest(
  name: string,
  channels: readonly Plane[],
  kernels: Kernels,
  effort: 'draft' | 'final' | 'first',
): Contest {
  const { source, plan, piece } = focusPlan(channels, kernels);
  const cell = { x: 128, y: 128, width: TILE_PX, height: TILE_PX };
  return {
    name,
    reference: null,
    run() {
      for (let k = 0; k < 8; k++) {
        const seen = effort === 'first' ? { ...piece } : piece;
        const work = { ...(effort === 'draft' ? DRAFT_EFFORT : FINAL_EFFORT), kernels };
        const solved = solveTile(source, plan, seen, cell, work)!;
        if (effort !== 'draft') auditTile(source, plan, seen, cell, solved, 16, work);
      }
    },
  };
}

const RL = 'richardson_lucy 1024';

/** Our transform is complex and carries two real planes at once; the reference's does one real plane. */
function fftPair(kernels: Kernels, plane: Plane): Contest {
  const { width, height } = plane;
  const complex = createComplex(width, height);
  return {
    name: `2-D FFT and back, two real planes at once, ${width}²`,
    reference: `fft ${width}, twice`,
    run: () => {
      complex.re.set(plane.data);
      complex.im.set(plane.data);
      kernels.fft2d(complex);
      kernels.inverseFft2d(complex);
    },
  };
}

async function caseOf(name: RegExp) {
  const at = RECIPES.findIndex((recipe) => name.test(recipe.name));
  return (await makeCase(RECIPES[at], at + 1)).degraded;
}

const partsOf = ([{ width, height }]: readonly Plane[]) => ({
  all: filledPlane(width, height, 1),
  none: new Uint8Array(width * height),
});

function reading(channels: readonly Plane[], kernels: Kernels) {
  const { all, none } = partsOf(channels);
  return takeReading({
    channels,
    lumaWeights: REC709_WEIGHTS,
    use: all,
    clipped: none,
    jpeg: false,
    kernels,
  });
}

function everything(channels: readonly Plane[], kernels: Kernels): void {
  const { all, none } = partsOf(channels);
  const { cause, noise, floor } = reading(channels, kernels);
  recover(
    { channels, lumaWeights: REC709_WEIGHTS, known: all, clipped: none, originX: 0, originY: 0 },
    { ...cause!, noise, noiseFloor: floor, noiseGuard: 50, haloLimitPercent: 50, grainKeptPercent: 0 },
    { ...FINAL_EFFORT, kernels },
  );
}

function referenceProcess() {
  const child = spawn('/usr/bin/python3', [join(ROOT, 'bench', 'speedReference.py')], {
    stdio: ['pipe', 'pipe', 'inherit'],
    env: { ...process.env, OMP_NUM_THREADS: '1' },
  });
  const answers = createInterface(child.stdout)[Symbol.asyncIterator]();
  return {
    async ask(work: string): Promise<number> {
      child.stdin.write(`${work}\n`);
      const answer = await answers.next();
      if (answer.done) throw new Error('The reference process ended.');
      return Number(answer.value);
    },
    end: () => child.stdin.end(),
  };
}
