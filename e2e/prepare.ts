import { copyFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DEMO, PREPARED, TestServer } from './server';

const FRAME = 'saltmere-0801.jpg';
const LOOK_MS = 300;

/**
 * The data folder that every test begins with, made once: a demo shoot of one frame that was looked after. Twelve times
 * over that took more of the machine than the tests.
 */
export default async function prepare(): Promise<() => Promise<void>> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-prepared-'));
  const demo = await mkdtemp(join(tmpdir(), 'vitrocept-demo-'));
  await copyFile(join(DEMO, 'frames', FRAME), join(demo, FRAME));
  const server = new TestServer(data, demo);
  await server.start();
  type Answer = { readonly id: string; readonly frames?: readonly { readonly id: string; readonly state: string }[] };
  const ask = async (path: string) => (await fetch(`${server.url}${path}`)).json() as Promise<Answer>;
  const shoots = async () => (await fetch(`${server.url}/api/shoots`)).json() as Promise<Answer[]>;
  for (;;) {
    const [shoot] = await shoots();
    const frame = shoot && (await ask(`/api/shoots/${shoot.id}`)).frames?.[0];
    if (frame?.state === 'done') break;
    if (frame?.state === 'sorted') {
      const body = { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' };
      await fetch(`${server.url}/api/frames/${frame.id}/look-after`, body);
    }
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
  await server.stop();
  await rm(demo, { recursive: true, force: true });
  process.env[PREPARED] = data;
  return () => rm(data, { recursive: true, force: true });
}
