import { spawn } from 'node:child_process';
import { buildPage, buildPrograms, SERVER } from './build.mjs';
import { ensurePackages, ROOT } from './setup.mjs';

ensurePackages();
buildPage();
buildPrograms();
const server = spawn(process.execPath, [SERVER], {
  cwd: ROOT,
  stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
// npm may be ended without a word to those below it; then this process is somebody else's child.
const parent = process.ppid;
setInterval(() => {
  if (process.ppid !== parent) process.exit(0);
}, 1000).unref();
server.on('exit', (code) => process.exit(code ?? 1));
