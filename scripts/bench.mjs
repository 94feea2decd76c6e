import { spawnSync } from 'node:child_process';
import { ensurePackages, ensurePrograms, ROOT, TEST_PROGRAMS } from './setup.mjs';

ensurePackages();
ensurePrograms({ 'python3-skimage': TEST_PROGRAMS['python3-skimage'] });
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'bench/src/main.ts', ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
});
process.exit(status ?? 1);
