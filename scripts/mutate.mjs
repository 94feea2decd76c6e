import { execFileSync, spawn } from 'node:child_process';
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
/** So many at a time, each in a copy of its own. */
const AT_ONCE = 2;

function chosen() {
  if (!wish) return MUTATIONS;
  const count = Number(wish);
  if (!Number.isInteger(count)) return MUTATIONS.filter(({ file }) => file.includes(wish));
  return Array.from({ length: count }, (_, i) => MUTATIONS[Math.floor(((i + 0.5) * MUTATIONS.length) / count)]);
}

function copiedProject() {
  const copy = mkdtempSync(join(tmpdir(), 'vitrocept-mutants-'));
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
  return copy;
}

/** Runs a program in a copy; resolves with its status and all it said. */
const run = (copy, program, args) =>
  new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd: copy });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (said += chunk));
    child.on('error', reject);
    child.on('exit', (status) => resolve({ status, said }));
  });

/** Null where a test noticed, else what went wrong. */
async function survives(copy, { file, from, to, tests }) {
  const path = join(copy, file);
  const whole = readFileSync(path, 'utf8');
  if (whole.split(from).length !== 2) return `“${from}” stands ${whole.split(from).length - 1} times in the file`;
  writeFileSync(
    path,
    whole.replace(from, () => to),
  );
  try {
    const vitest = join('node_modules', '.bin', 'vitest');
    const { status, said } = await run(copy, vitest, ['run', '--reporter=dot', '--bail=1', ...tests]);
    if (status === 0) return 'no test noticed';
    return /No test files found/.test(said) ? 'its tests are not there' : null;
  } finally {
    writeFileSync(path, whole);
  }
}

let caught = 0;
const list = chosen();
const waiting = [...list];
await Promise.all(
  Array.from({ length: Math.min(AT_ONCE, list.length) }, async () => {
    const copy = copiedProject();
    try {
      for (let mutation = waiting.shift(); mutation; mutation = waiting.shift()) {
        const problem = await survives(copy, mutation);
        const [from, to] = [mutation.from, mutation.to].map((text) => text.trim().replaceAll('\n', ' '));
        const told = `${mutation.file}: ${from} → ${to || 'nothing'}`;
        console.log(problem ? `SURVIVED ${told} (${problem})` : `caught   ${told}`);
        if (!problem) caught++;
      }
    } finally {
      rmSync(copy, { recursive: true, force: true });
    }
  }),
);
console.log(`mutations: ${list.length} tried, ${caught} caught`);
process.exit(caught === list.length ? 0 : 1);
