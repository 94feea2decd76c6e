import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));

export interface RunningServer {
  readonly child: ChildProcess;
  readonly url: string;
  /** What it wrote down. */
  readonly log: string[];
  readonly gone: Promise<number | null>;
}

/** Starts the real server on a data folder and a free port, without the demo shoot unless one is named. */
export async function startServer(
  data: string,
  env: Record<string, string> = {},
  /** Where the built application lies. */
  root = ROOT,
): Promise<RunningServer> {
  const child = spawn(process.execPath, ['dist/node/main.js'], {
    cwd: root,
    env: { ...process.env, VITROCEPT_DATA: data, VITROCEPT_DEMO: '/nonexistent', PORT: '0', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const log: string[] = [];
  child.stderr!.on('data', (chunk: Buffer) => log.push(...chunk.toString().split('\n').filter(Boolean)));
  const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
  const url = await new Promise<string>((resolve, reject) => {
    child.stdout!.on('data', (chunk: Buffer) => {
      const address = /http:\/\/127\.0\.0\.1:\d+/.exec(chunk.toString());
      if (address) resolve(address[0]);
    });
    void gone.then((code) => reject(new Error(`The server ended with ${code}: ${log.join(' ')}`)));
  });
  return { child, url, log, gone };
}

export async function endServer({ child, gone }: RunningServer, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
  child.kill(signal);
  await gone;
}

/** The most memory a process has had since the last call, MB. Linux only: proc(5), VmHWM and clear_refs. */
export function peakMemory({ pid }: ChildProcess): number {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  try {
    writeFileSync(`/proc/${pid}/clear_refs`, '5');
  } catch {
    // Not allowed everywhere: then the peak is that of the whole life.
  }
  return Math.round(Number(/VmHWM:\s+(\d+)/.exec(status)![1]) / 1024);
}

const JSON_TYPE = { 'content-type': 'application/json' };

export async function sendJson<T>(url: string, method: string, body: unknown): Promise<T> {
  const answer = await fetch(url, { method, headers: JSON_TYPE, body: JSON.stringify(body) });
  if (!answer.ok) throw new Error(`${method} ${url}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
}

export async function newShoot(url: string, name: string): Promise<string> {
  return (await sendJson<{ id: string }>(`${url}/api/shoots`, 'POST', { name })).id;
}

export function sendFile(url: string, name: string, bytes: Buffer): Promise<Response> {
  const form = new FormData();
  form.append('file', new Blob([new Uint8Array(bytes)]), name);
  return fetch(url, { method: 'POST', body: form });
}
