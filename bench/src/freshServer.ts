import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './root';

/** Shows a server with an empty data folder to `use`; ends it afterwards. */
export async function withFreshServer(use: (url: string, pid: number) => Promise<void>): Promise<void> {
  const data = mkdtempSync(join(tmpdir(), 'vitrocept-bench-'));
  const noDemo = join(data, 'no-demo');
  mkdirSync(noDemo);
  const child = spawn(process.execPath, ['dist/node/main.js'], {
    cwd: ROOT,
    env: { ...process.env, VITROCEPT_DATA: data, PORT: '0', VITROCEPT_DEMO: noDemo },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const gone = new Promise((resolve) => child.once('exit', resolve));
  try {
    const url = await new Promise<string>((resolve) => {
      child.stdout.on('data', (chunk) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(chunk));
        if (found) resolve(found[0]);
      });
    });
    await use(url, child.pid!);
  } finally {
    child.kill();
    await gone;
    rmSync(data, { recursive: true, force: true });
  }
}
