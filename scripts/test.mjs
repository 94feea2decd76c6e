import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildPage } from './build.mjs';
import { bin, ensurePackages, ensurePrograms, ROOT, TEST_PROGRAMS } from './setup.mjs';

ensurePackages();
ensurePrograms(TEST_PROGRAMS);

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

step('types', bin('tsc'), ['-b']);
// One program for all tests that see no page.
step('types of tests and soak', bin('tsc'), ['-p', 'tsconfig.tests.json']);
for (const part of ['workers', 'web', 'bench']) {
  step(`types of the tests of ${part}`, bin('tsc'), ['-p', `${part}/test`]);
}
step('lint', bin('eslint'), ['.']);
step('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
step('kernels are what their source builds to', process.execPath, ['scripts/kernels.mjs', '--check']);
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
step('ten mutations are noticed', process.execPath, ['scripts/mutate.mjs', '10']);
buildPage();
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
