import { spawn, spawnSync } from 'node:child_process';
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

const QUIET = { DEBIAN_FRONTEND: 'noninteractive' };
const LOCK = ['-o', 'DPkg::Lock::Timeout=900'];

/** The calls of apt-get that install the Debian packages whose program is missing. */
function installing(packages) {
  const missing = Object.entries(packages).filter(([, isThere]) => !isThere());
  if (missing.length === 0) return [];
  const names = missing.map(([name]) => name);
  console.error(`Installing ${names.join(', ')} …`);
  return [
    [...LOCK, 'update', '-qq'],
    [...LOCK, 'install', '-y', '-qq', '--no-install-recommends', ...names],
  ];
}

/** Installs Debian packages whose program is missing. */
export function ensurePrograms(packages) {
  for (const args of installing(packages)) install('apt-get', args, QUIET);
}

/** The same while other things go on: resolves when all are there; what installing says is shown where it fails. */
export async function programsComing(packages) {
  for (const args of installing(packages)) {
    const child = spawn('apt-get', args, { env: { ...process.env, ...QUIET } });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (said += chunk));
    const status = await new Promise((resolve) => {
      child.on('error', resolve);
      child.on('close', resolve);
    });
    if (status === 0) continue;
    console.error(`${said}\nThe programs for the tests could not be installed.`);
    process.exit(1);
  }
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
