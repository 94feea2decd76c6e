import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bin, ensurePackages, ROOT, run } from './setup.mjs';

const SHARED = ['core/src', 'package-lock.json'];

const PAGE = {
  sources: [
    ...SHARED,
    'kernels/src',
    'kernels/wasm',
    'workers/src',
    'web/src',
    'web/public',
    'web/index.html',
    'web/vite.config.ts',
  ],
  folder: join(ROOT, 'web', 'dist'),
  build: ['build', 'web'],
};

const PROGRAMS = {
  sources: [...SHARED, 'kernels/src', 'files/src', 'server/src', 'cli/src', 'vite.programs.config.ts'],
  folder: join(ROOT, 'dist', 'node'),
  build: ['build', '--config', 'vite.programs.config.ts'],
};

export const SERVER = join(PROGRAMS.folder, 'main.js');
export const CLI = join(PROGRAMS.folder, 'cli.js');

function* filesBelow(path) {
  if (statSync(path).isFile()) yield path;
  else for (const name of readdirSync(path).sort()) yield* filesBelow(join(path, name));
}

/**
 * Builds unless nothing it is made of has changed. What it says goes to standard error: a command's answer may be read.
 */
function build({ sources, folder, build }) {
  const hash = createHash('sha256');
  for (const source of sources) {
    for (const file of filesBelow(join(ROOT, source))) hash.update(file.slice(ROOT.length)).update(readFileSync(file));
  }
  const state = hash.digest('hex');
  const stamp = join(folder, '.stamp');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === state) return;
  run(bin('vite'), [...build, '--logLevel', 'warn'], {}, ['inherit', 2, 2]);
  writeFileSync(stamp, state);
}

export const buildPage = () => build(PAGE);
/** The server and the command line. */
export const buildPrograms = () => build(PROGRAMS);

if (process.argv[1] === join(ROOT, 'scripts', 'build.mjs')) {
  ensurePackages();
  buildPage();
  buildPrograms();
}
