import { spawn } from 'node:child_process';
import { buildPage } from './build.mjs';
import { ensurePackages, ROOT } from './setup.mjs';

ensurePackages();
buildPage();
const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], { cwd: ROOT, stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 1));
