import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildPage, buildPrograms } from './build.mjs';
import { bin, ensurePackages, programsComing, ROOT, TEST_PROGRAMS } from './setup.mjs';

ensurePackages();
// What needs them comes later.
const programs = programsComing(TEST_PROGRAMS);

const reports = mkdtempSync(join(tmpdir(), 'vitrocept-test-'));
let passed = 0;
let failed = 0;
let skipped = 0;

function step(name, program, args, count, env = {}) {
  console.log(`\n── ${name}`);
  const { status } = spawnSync(program, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...env } });
  const counts = count ? count() : { passed: status === 0 ? 1 : 0, failed: status === 0 ? 0 : 1 };
  passed += counts.passed;
  failed += counts.failed;
  skipped += counts.skipped ?? 0;
  if (status !== 0 && counts.failed === 0) failed += 1;
}

const sayLeftOut = (lines) => lines.forEach((line) => console.log(line));
const reportOf = (name) => JSON.parse(readFileSync(join(reports, name), 'utf8'));
const orNothing = (read) => () => {
  try {
    return read();
  } catch {
    return { passed: 0, failed: 0 };
  }
};

/** A chain of checks that need one core each, beside others; what they say is shown when each has ended. */
async function beside(...checks) {
  for (const [name, program, args] of checks) {
    const child = spawn(program, args, { cwd: ROOT });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (said += chunk));
    const status = await new Promise((resolve) => child.on('close', resolve));
    console.log(`\n── ${name}\n${said.trimEnd()}`);
    if (status === 0) passed += 1;
    else failed += 1;
  }
}

buildPage();
buildPrograms();
await Promise.all([
  programs,
  beside(
    ['types', bin('tsc'), ['-b']],
    // One program for all tests that see no page.
    ['types of tests and soak', bin('tsc'), ['-p', 'tsconfig.tests.json']],
    ...['workers', 'web', 'bench'].map((part) => [`types of the tests of ${part}`, bin('tsc'), ['-p', `${part}/test`]]),
  ),
  beside(
    ['lint', bin('eslint'), ['.']],
    ['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']],
    ['licences are what ships', process.execPath, ['scripts/licences.mjs', '--check']],
    ['kernels are what their source builds to', process.execPath, ['scripts/kernels.mjs', '--check']],
  ),
]);
step(
  'unit and outside references',
  bin('vitest'),
  ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${join(reports, 'unit.json')}`],
  orNothing(() => {
    const { numPassedTests, numFailedTests, numFailedTestSuites, numPendingTests, numTodoTests, testResults } =
      reportOf('unit.json');
    sayLeftOut(
      testResults.flatMap(({ assertionResults }) =>
        assertionResults
          .filter(({ status }) => status !== 'passed' && status !== 'failed')
          .map(({ status, fullName }) => `${status}: ${fullName}`),
      ),
    );
    return {
      passed: numPassedTests,
      failed: Math.max(numFailedTests, numFailedTestSuites > 0 ? 1 : 0),
      skipped: numPendingTests + numTodoTests,
    };
  }),
);
step('six mutations are noticed', process.execPath, ['scripts/mutate.mjs', '6']);
step(
  'end to end',
  bin('playwright'),
  ['test', '--reporter=list,json'],
  orNothing(() => {
    const { expected, flaky, unexpected, skipped: left } = reportOf('e2e.json').stats;
    // What passes only when it is tried again does not hold.
    if (flaky > 0) console.log(`flaky: ${flaky} end-to-end tests passed only when tried again`);
    return { passed: expected, failed: unexpected + flaky, skipped: left };
  }),
  { PLAYWRIGHT_JSON_OUTPUT_NAME: join(reports, 'e2e.json') },
);
rmSync(reports, { recursive: true });
if (skipped > 0) console.log(`${skipped} skipped`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
