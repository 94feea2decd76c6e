import { test as base, expect } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));
export const DEMO = join(ROOT, 'demo');
/** Where the data folder that was made beforehand lies. */
export const PREPARED = 'VITROCEPT_PREPARED';

/** A real server on a free port with a data folder of its own. */
export class TestServer {
  private child: ChildProcess | null = null;
  url = '';

  constructor(
    readonly data: string,
    /** Frames of the demo shoot. */
    readonly demo: string,
  ) {}

  /** Again on the same port: what the browser keeps is kept by address. */
  async start(): Promise<void> {
    const child = spawn(process.execPath, ['dist/node/main.js'], {
      cwd: ROOT,
      env: {
        ...process.env,
        VITROCEPT_DATA: this.data,
        VITROCEPT_DEMO: this.demo,
        PORT: this.url ? new URL(this.url).port : '0',
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    this.url = await new Promise((resolve, reject) => {
      let said = '';
      child.stdout.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        const address = /http:\/\/127\.0\.0\.1:\d+/.exec(said);
        if (address) resolve(address[0]);
      });
      child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
      child.on('exit', () => reject(new Error(`The server ended: ${said}`)));
    });
  }

  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill(signal);
    await gone;
  }
}

/** Every test: a server of its own, and no error in the page's console. */
export const test = base.extend<{ server: TestServer; quietConsole: void }>({
  server: async ({}, use) => {
    const data = await mkdtemp(join(tmpdir(), 'vitrocept-e2e-'));
    await cp(process.env[PREPARED]!, data, { recursive: true });
    const server = new TestServer(data, join(DEMO, 'frames'));
    await server.start();
    await use(server);
    await server.stop();
    await rm(data, { recursive: true, force: true });
  },
  quietConsole: [
    async ({ page }, use) => {
      const complaints: string[] = [];
      page.on('pageerror', (error) => complaints.push(error.message));
      page.on('console', (message) => {
        // A refused file, a stale save and a stopped server answer with an error status on purpose; the browser notes
        // each.
        if (message.type() === 'error' && !message.text().startsWith('Failed to load resource')) {
          complaints.push(message.text());
        }
      });
      await use();
      expect(complaints).toEqual([]);
    },
    { auto: true },
  ],
});

export { expect };
