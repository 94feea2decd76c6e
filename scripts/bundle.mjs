import { cpSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { buildPage, buildPrograms } from './build.mjs';
import { ensurePackages, ROOT, run } from './setup.mjs';

/**
 * A release: what runs, built, with the list of packages it needs. Where it is unpacked `npm ci --omit=dev`, then
 * `node dist/node/main.js`. Usage: npm run bundle [-- FOLDER].
 */
const { version, workspaces } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'));
const name = `vitrocept-${version}`;
const folder = process.argv[2] ?? join(ROOT, 'dist', 'release');

/** The page's faces and sample frames are parts of it; the sources are not. */
const PARTS = [
  'package.json',
  'package-lock.json',
  ...workspaces.map((part) => `${part}/package.json`),
  'dist/node',
  'web/dist',
  'kernels/wasm',
  'demo/frames',
  'demo/truth',
  'README.md',
  'CHANGELOG.md',
  'docs/licences.md',
];

ensurePackages();
buildPage();
buildPrograms();
const to = join(folder, name);
rmSync(to, { recursive: true, force: true });
for (const part of PARTS) {
  mkdirSync(dirname(join(to, part)), { recursive: true });
  cpSync(join(ROOT, part), join(to, part), { recursive: true });
}
// Nearly all of it is compressed already.
run('tar', ['--use-compress-program=gzip -1', '-cf', join(folder, `${name}.tar.gz`), '-C', folder, name]);
console.log(join(folder, `${name}.tar.gz`));
