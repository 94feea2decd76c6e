import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
const STAMP = join(ROOT, 'node_modules', '.vitrocept-stamp');

/** Runs a program in the project's folder with its output shown; ends this process where it fails. */
export function run(program, args, env = {}, stdio = 'inherit') {
  const { status, error } = spawnSync(program, args, { cwd: ROOT, stdio, env: { ...process.env, ...env } });
  if (error) console.error(`${program}: ${error.message}`);
  if (status !== 0) process.exit(status ?? 1);
}

/** What installing says goes to standard error: a command's answer may be read by a program. */
const install = (program, args, env) => run(program, args, env, ['inherit', 2, 2]);

export const bin = (name) => join(ROOT, 'node_modules', '.bin', name);

const has = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0;

/** Installs Debian packages whose program is missing. */
export function ensurePrograms(packages) {
  const missing = Object.entries(packages).filter(([, isThere]) => !isThere());
  if (missing.length === 0) return;
  const names = missing.map(([name]) => name);
  console.error(`Installing ${names.join(', ')} …`);
  const quiet = { DEBIAN_FRONTEND: 'noninteractive' };
  const lock = ['-o', 'DPkg::Lock::Timeout=900'];
  install('apt-get', [...lock, 'update', '-qq'], quiet);
  install('apt-get', [...lock, 'install', '-y', '-qq', '--no-install-recommends', ...names], quiet);
}

export const TEST_PROGRAMS = {
  'liblcms2-utils': () => has('transicc'),
  'libraw-bin': () => has('dcraw_emu'),
  'poppler-utils': () => has('pdftotext'),
  'libimage-exiftool-perl': () => has('exiftool'),
  chromium: () => existsSync('/usr/bin/chromium'),
  'python3-skimage': () => spawnSync('/usr/bin/python3', ['-c', 'import skimage']).status === 0,
};

/** npm packages as the lock file names them; again only when it changes. */
export function ensurePackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .update(process.version)
    .digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  ensurePrograms({ python3: () => has('python3'), make: () => has('make'), 'g++': () => has('g++') });
  // Only the database module needs to be compiled, against the headers that came with this Node.
  const headers = dirname(dirname(process.execPath));
  const env = {
    npm_config_build_from_source: 'true',
    ...(existsSync(join(headers, 'include', 'node', 'node.h')) ? { npm_config_nodedir: headers } : {}),
  };
  install('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'], env);
  install('npm', ['rebuild', 'better-sqlite3', '--loglevel=error'], env);
  writeFileSync(STAMP, lock);
}
