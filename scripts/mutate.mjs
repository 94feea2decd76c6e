import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { MUTATIONS } from '../mutations/list.mjs';
import { ensurePackages, ROOT } from './setup.mjs';

/**
 * Breaks the code on purpose, one fault at a time, in a copy of the project, and looks whether a test notices.
 * `npm run mutate [-- HOW_MANY | PATTERN]`: all of them, so many spread evenly, or those whose file matches.
 */
ensurePackages();
const [wish] = process.argv.slice(2);
const copy = mkdtempSync(join(tmpdir(), 'vitrocept-mutants-'));

function chosen() {
  if (!wish) return MUTATIONS;
  const count = Number(wish);
  if (!Number.isInteger(count)) return MUTATIONS.filter(({ file }) => file.includes(wish));
  return Array.from({ length: count }, (_, i) => MUTATIONS[Math.floor(((i + 0.5) * MUTATIONS.length) / count)]);
}

function copyProject() {
  const tracked = execFileSync('git', ['ls-files', '-z', '--cached', '--others', '--exclude-standard'], { cwd: ROOT });
  for (const name of tracked.toString().split('\0').filter(Boolean)) {
    if (/^docs\//.test(name)) continue;
    mkdirSync(join(copy, dirname(name)), { recursive: true });
    cpSync(join(ROOT, name), join(copy, name));
  }
  // All packages as they are, but our own ones from the copy.
  mkdirSync(join(copy, 'node_modules', '@vitrocept'), { recursive: true });
  for (const name of readdirSync(join(ROOT, 'node_modules')))
    if (name !== '@vitrocept') symlinkSync(join(ROOT, 'node_modules', name), join(copy, 'node_modules', name));
  for (const name of readdirSync(join(ROOT, 'node_modules', '@vitrocept')))
    symlinkSync(join(copy, name), join(copy, 'node_modules', '@vitrocept', name));
}

const run = (program, args) => spawnSync(program, args, { cwd: copy, encoding: 'utf8' });

/** Null where a test noticed, else what went wrong. */
function survives({ file, from, to, tests }) {
  const path = join(copy, file);
  const whole = readFileSync(path, 'utf8');
  if (whole.split(from).length !== 2) return `“${from}” stands ${whole.split(from).length - 1} times in the file`;
  writeFileSync(
    path,
    whole.replace(from, () => to),
  );
  try {
    const vitest = join('node_modules', '.bin', 'vitest');
    const { status, stdout, stderr } = run(vitest, ['run', '--reporter=dot', '--bail=1', ...tests]);
    if (status === 0) return 'no test noticed';
    return /No test files found/.test(stdout + stderr) ? 'its tests are not there' : null;
  } finally {
    writeFileSync(path, whole);
  }
}

let caught = 0;
const list = chosen();
try {
  copyProject();
  for (const mutation of list) {
    const problem = survives(mutation);
    const [from, to] = [mutation.from, mutation.to].map((text) => text.trim().replaceAll('\n', ' '));
    console.log(
      `${problem ? 'SURVIVED' : 'caught  '} ${mutation.file}: ${from} → ${to || 'nothing'}${problem ? ` (${problem})` : ''}`,
    );
    if (!problem) caught++;
  }
} finally {
  rmSync(copy, { recursive: true, force: true });
}
console.log(`mutations: ${list.length} tried, ${caught} caught`);
process.exit(caught === list.length ? 0 : 1);
