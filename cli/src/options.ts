import { parseArgs } from 'node:util';
import {
  METHODS,
  SAVE_FORMATS,
  SETTINGS,
  type Method,
  type SaveFormat,
  type SettingDescription,
} from '@vitrocept/core';

import { DEFAULT_FORMAT, UsageError } from './usage';

export interface ReadOptions {
  readonly command: 'read';
  readonly files: readonly string[];
  readonly mask: string | null;
  /** The subject is not looked for. */
  readonly wholeFrame: boolean;
}

/** Of recoveries that take back a blur: with what a trained network finds missing, or as the solver left it. */
const TEXTURES = ['learned', 'plain'] as const;

export interface RenderOptions {
  readonly command: 'render';
  readonly files: readonly string[];
  readonly out: string;
  /** Results that are there already may be written over. */
  readonly replace: boolean;
  readonly format: SaveFormat;
  readonly method: Method | null;
  readonly blurSizePx: number | null;
  readonly directionDeg: number | null;
  /** The strongest at which nothing is beyond safe, found for each file. */
  readonly amount: number | 'safest' | null;
  readonly noiseGuard: number | null;
  readonly texture: (typeof TEXTURES)[number];
  readonly badlySoft: boolean;
  readonly psf: string | null;
  readonly mask: string | null;
  readonly wholeFrame: boolean;
  readonly prescription: string | null;
}

export interface RoundOptions {
  readonly command: 'round';
  readonly folder: string;
  readonly out: string;
  /** A kept prescription by its name or its file; null: the first that ships. */
  readonly use: string | null;
  readonly format: SaveFormat;
  /** Frames at a time; null: as many as the machine has cores. */
  readonly jobs: number | null;
  readonly json: boolean;
}

export interface ProveOptions {
  readonly command: 'prove';
  readonly copy: string;
  readonly original: string;
  readonly prescription: string;
}

export type PracticeOptions = { readonly command: 'practice' } & (
  | { readonly act: 'list' }
  | { readonly act: 'make'; readonly name: string; readonly out: string; readonly isMosaic: boolean }
  | { readonly act: 'grade'; readonly result: string; readonly name: string; readonly json: boolean }
);

export type Options = ReadOptions | RenderOptions | RoundOptions | ProveOptions | PracticeOptions;

const ROUND_FLAGS = ['use', 'jobs'];
const RENDER_FLAGS = [
  'out',
  'format',
  'method',
  'blur-size',
  'direction',
  'amount',
  'noise-guard',
  'texture',
  'badly-soft',
  'psf',
  'prescription',
];

/** @throws UsageError */
export function readOptions(args: readonly string[]): Options | { command: 'help' } {
  const { positionals, ...parsed } = parse(args);
  const values: Partial<Record<string, string | boolean>> = parsed.values;
  const [command, ...files] = positionals;
  if (values.help || command === 'help') return { command: 'help' };
  if (command === 'prove') return proveOptions(files, values);
  if (command === 'practice') return practiceOptions(files, values);
  if (command !== 'read' && command !== 'render' && command !== 'round') {
    throw new UsageError(
      command ? `There is no command “${command}”.` : 'A command is missing: read, render, round, prove or practice.',
    );
  }
  if (command === 'round') return roundOptions(files, values);
  const ofRound = ROUND_FLAGS.find((flag) => values[flag] !== undefined);
  if (ofRound) throw new UsageError(`--${ofRound} belongs to round, not to ${command}.`);
  if (files.length === 0) throw new UsageError(`${command} needs at least one file.`);
  const text = (name: string) => (values[name] as string | undefined) ?? null;
  if (command === 'read') {
    const foreign = RENDER_FLAGS.find((flag) => values[flag] !== undefined);
    if (foreign) throw new UsageError(`--${foreign} belongs to render, not to read.`);
    if (values.replace) throw new UsageError('--replace belongs to render, not to read.');
    if (!values.json) throw new UsageError('read prints JSON: add --json.');
    return { command, files, mask: text('mask'), wholeFrame: wholeFrameOf(values) };
  }
  if (values.json) throw new UsageError('--json belongs to read, not to render.');
  const out = text('out');
  if (!out) throw new UsageError('render needs --out DIR.');
  const prescription = text('prescription');
  if (
    prescription &&
    ['method', 'blur-size', 'direction', 'noise-guard', 'texture', 'badly-soft'].some(
      (flag) => values[flag] !== undefined,
    )
  ) {
    throw new UsageError('--prescription already says the method and its settings; give one or the other.');
  }
  return {
    command,
    files,
    out,
    replace: values.replace === true,
    format: oneOf('format', text('format') ?? DEFAULT_FORMAT, SAVE_FORMATS),
    method: text('method') === null ? null : oneOf('method', text('method')!, METHODS),
    blurSizePx: amountOf('blur-size', text('blur-size'), SETTINGS.blurSizePx),
    directionDeg: amountOf('direction', text('direction'), SETTINGS.directionDeg),
    amount: text('amount') === 'safest' ? 'safest' : amountOf('amount', text('amount'), SETTINGS.amount),
    noiseGuard: amountOf('noise-guard', text('noise-guard'), SETTINGS.noiseGuard),
    texture: oneOf('texture', text('texture') ?? 'learned', TEXTURES),
    badlySoft: values['badly-soft'] === true,
    psf: text('psf'),
    mask: text('mask'),
    wholeFrame: wholeFrameOf(values),
    prescription,
  };
}

function roundOptions(files: readonly string[], values: Partial<Record<string, string | boolean>>): RoundOptions {
  if (files.length !== 1) throw new UsageError('round needs one folder.');
  const own = ['out', 'format', ...ROUND_FLAGS];
  const foreign = [...RENDER_FLAGS, 'mask', 'replace', 'whole-frame'].find(
    (flag) => values[flag] !== undefined && !own.includes(flag),
  );
  if (foreign) throw new UsageError(`--${foreign} belongs to render, not to round.`);
  const text = (name: string) => (values[name] as string | undefined) ?? null;
  const out = text('out');
  if (!out) throw new UsageError('round needs --out DIR for the results.');
  const jobs = text('jobs');
  if (jobs !== null && !/^[1-9]\d?$/.test(jobs)) {
    throw new UsageError(`--jobs must be a whole number from 1 to 99, not “${jobs}”.`);
  }
  return {
    command: 'round',
    folder: files[0],
    out,
    use: text('use'),
    format: oneOf('format', text('format') ?? DEFAULT_FORMAT, SAVE_FORMATS),
    jobs: jobs === null ? null : Number(jobs),
    json: values.json === true,
  };
}

function proveOptions(files: readonly string[], values: Partial<Record<string, string | boolean>>): ProveOptions {
  if (files.length !== 2) throw new UsageError('prove needs a copy and its original.');
  const foreign = Object.keys(values).find((flag) => flag !== 'prescription' && values[flag] !== undefined);
  if (foreign) throw new UsageError(`--${foreign} does not belong to prove.`);
  const prescription = values.prescription as string | undefined;
  if (!prescription) throw new UsageError('prove needs --prescription P.json, as it was handed over with the copy.');
  return { command: 'prove', copy: files[0], original: files[1], prescription };
}

function practiceOptions(
  [act, ...rest]: readonly string[],
  values: Partial<Record<string, string | boolean>>,
): PracticeOptions {
  const out = values.out as string | undefined;
  if (act === 'list' && rest.length === 0) return { command: 'practice', act };
  if (act === 'make' && rest.length === 1 && out) {
    return { command: 'practice', act, name: rest[0], out, isMosaic: values.mosaic === true };
  }
  if (act === 'grade' && rest.length === 2) {
    return { command: 'practice', act, result: rest[0], name: rest[1], json: values.json === true };
  }
  throw new UsageError('practice takes: list, make CASE --out DIR, or grade RESULT CASE.');
}

function parse(args: readonly string[]) {
  const string = { type: 'string' } as const;
  try {
    return parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        ...Object.fromEntries([...RENDER_FLAGS, ...ROUND_FLAGS, 'mask'].map((flag) => [flag, string])),
        json: { type: 'boolean' },
        replace: { type: 'boolean' },
        'whole-frame': { type: 'boolean' },
        'badly-soft': { type: 'boolean' },
        mosaic: { type: 'boolean' },
        help: { type: 'boolean', short: 'h' },
      },
    });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

function wholeFrameOf(values: Partial<Record<string, string | boolean>>): boolean {
  if (values['whole-frame'] && values.mask !== undefined) {
    throw new UsageError('--whole-frame and --mask exclude each other; give one or the other.');
  }
  return values['whole-frame'] === true;
}

function oneOf<T extends string>(flag: string, value: string, allowed: readonly T[]): T {
  const found = allowed.find((item) => item === value);
  if (!found) throw new UsageError(`--${flag} must be one of ${allowed.join(', ')}, not “${value}”.`);
  return found;
}

function amountOf(flag: string, text: string | null, { least, most }: SettingDescription): number | null {
  if (text === null) return null;
  const value = text.trim() === '' ? NaN : Number(text);
  if (!Number.isFinite(value) || value < least || value > most) {
    throw new UsageError(`--${flag} must be a number from ${least} to ${most}, not “${text}”.`);
  }
  return value;
}
