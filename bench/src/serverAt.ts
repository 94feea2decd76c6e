import { readFileSync } from 'node:fs';

/** Clock ticks of /proc in a second (Linux on all machines of today). */
const TICKS = 100;

export interface Server {
  get<T>(path: string): Promise<T>;
  send<T>(method: string, path: string, body: object): Promise<T>;
  upload(shootId: string, name: string, bytes: Buffer): Promise<void>;
  /** Of the process and its threads so far. */
  cpuSeconds(): number;
  /** The most memory it has held so far, GiB. */
  mostMemory(): number;
}

export function serverAt(url: string, pid: number): Server {
  const answered = async <T>(response: Response): Promise<T> => {
    if (!response.ok) throw new Error(`${response.url}: ${await response.text()}`);
    return (response.status === 204 ? null : await response.json()) as T;
  };
  return {
    get: async (path) => answered(await fetch(url + path)),
    send: async (method, path, body) =>
      answered(
        await fetch(url + path, {
          method,
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        }),
      ),
    async upload(shootId, name, bytes) {
      const form = new FormData();
      form.append('file', new Blob([new Uint8Array(bytes)]), name);
      await answered(await fetch(`${url}/api/shoots/${shootId}/frames`, { method: 'POST', body: form }));
    },
    mostMemory() {
      const kilobytes = /VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1];
      return Number(kilobytes) / 2 ** 20;
    },
    cpuSeconds() {
      const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ');
      return (Number(fields[11]) + Number(fields[12])) / TICKS;
    },
  };
}

export async function until(holds: () => Promise<boolean>): Promise<void> {
  while (!(await holds())) await new Promise((resolve) => setTimeout(resolve, 300));
}
