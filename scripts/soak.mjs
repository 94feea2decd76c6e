import { spawnSync } from 'node:child_process';
import { buildPrograms } from './build.mjs';
import { ensurePackages, ROOT } from './setup.mjs';

ensurePackages();
buildPrograms();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'soak/main.ts', ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
});
process.exit(status ?? 1);
