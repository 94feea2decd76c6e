import { spawnSync } from 'node:child_process';
import { buildPrograms, CLI } from './build.mjs';
import { ROOT, ensurePackages } from './setup.mjs';

ensurePackages();
buildPrograms();
const { status } = spawnSync(process.execPath, [CLI, ...process.argv.slice(2)], {
  cwd: ROOT,
  stdio: 'inherit',
  env: { INIT_CWD: process.cwd(), ...process.env },
});
process.exit(status ?? 1);
