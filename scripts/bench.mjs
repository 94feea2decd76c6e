import { spawnSync } from 'node:child_process';
import { buildPage, buildPrograms } from './build.mjs';
import { ensurePackages, ensurePrograms, ROOT, TEST_PROGRAMS } from './setup.mjs';

ensurePackages();
ensurePrograms(TEST_PROGRAMS);
const command = process.argv.slice(2).find((argument) => !argument.startsWith('--'));
if (command === undefined || command === 'noise')
  ensurePrograms({ 'python3-opencv': () => spawnSync('/usr/bin/python3', ['-c', 'import cv2']).status === 0 });
// What people wait for is measured in the real page and server.
buildPage();
buildPrograms();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'bench/src/main.ts', ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
});
process.exit(status ?? 1);
