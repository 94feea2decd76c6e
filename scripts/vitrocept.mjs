import { spawnSync } from 'node:child_process';
import { ROOT, ensurePackages } from './setup.mjs';

ensurePackages();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'cli/src/main.ts', ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
  env: { INIT_CWD: process.cwd(), ...process.env },
});
process.exit(status ?? 1);
