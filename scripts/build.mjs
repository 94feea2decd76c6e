import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bin, ensurePackages, ROOT, run } from './setup.mjs';

const SOURCES = [
  'web/src',
  'web/public',
  'web/index.html',
  'web/vite.config.ts',
  'core/src',
  'kernels/src',
  'kernels/wasm',
  'workers/src',
  'package-lock.json',
];
const STAMP = join(ROOT, 'web', 'dist', '.stamp');

function* filesBelow(path) {
  if (statSync(path).isFile()) yield path;
  else for (const name of readdirSync(path).sort()) yield* filesBelow(join(path, name));
}

/** Builds the page unless nothing it is made of has changed. */
export function buildPage() {
  const hash = createHash('sha256');
  for (const source of SOURCES) {
    for (const file of filesBelow(join(ROOT, source))) hash.update(file.slice(ROOT.length)).update(readFileSync(file));
  }
  const state = hash.digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === state) return;
  run(bin('vite'), ['build', 'web', '--logLevel', 'warn']);
  writeFileSync(STAMP, state);
}

if (process.argv[1] === join(ROOT, 'scripts', 'build.mjs')) {
  ensurePackages();
  buildPage();
}
