import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { automaticRecovery, emptyPrescription, type Prescription } from '@vitrocept/core';
import { Tally, type Outcome } from './outcome';
import { endServer, newShoot, peakMemory, ROOT, sendFile, sendJson, startServer } from './server';

const SIZES = [
  ['36 megapixels', 7360, 4912],
  ['100 megapixels', 12240, 8200],
] as const;
/** Beside its own samples: issue and docs/design say how much a frame may cost. */
const MOST_MB = 1500;

/** A large frame from coming in to the finished copy, with the time and the memory of each step. */
export async function large(): Promise<Outcome> {
  const tally = new Tally();
  for (const [name, width, height] of SIZES) {
    const data = await mkdtemp(join(tmpdir(), 'vitrocept-large-'));
    const server = await startServer(data);
    const { url, child } = server;
    const demo = await readFile(join(ROOT, 'demo/frames/saltmere-0418.jpg'));
    const bytes = await sharp(demo).resize(width, height, { fit: 'fill' }).jpeg({ quality: 90 }).toBuffer();
    const samplesMb = Math.round((width * height * 3) / 1e6);
    console.log(
      `${name}: ${width} × ${height} px, JPEG of ${Math.round(bytes.length / 1e6)} MB, samples ${samplesMb} MB`,
    );
    peakMemory(child);
    const step = async <T>(what: string, act: () => Promise<T>): Promise<T> => {
      const from = Date.now();
      const value = await act();
      const mb = peakMemory(child);
      tally.add(mb - samplesMb < MOST_MB ? null : `${name}, ${what}: ${mb} MB`);
      console.log(
        `  ${what.padEnd(34)} ${((Date.now() - from) / 1000).toFixed(1).padStart(6)} s  ${String(mb).padStart(5)} MB`,
      );
      return value;
    };
    const bytesOf = async (path: string) => {
      const answer = await fetch(url + path);
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
      return (await answer.arrayBuffer()).byteLength;
    };
    try {
      const shoot = await newShoot(url, name);
      const frame = await step('bring in', async () => {
        const answer = await sendFile(`${url}/api/shoots/${shoot}/frames`, 'large.jpg', bytes);
        return (await answer.json()) as { id: string };
      });
      const path = `/api/frames/${frame.id}`;
      await step('view, 2048 px', () => bytesOf(`${path}/view.jpg?side=2048`));
      await step('view, 6144 px', () => bytesOf(`${path}/view.jpg?side=6144`));
      await step('tones', () => bytesOf(`${path}/tones`));
      await step('clipping', () => bytesOf(`${path}/clipping.png?side=1600`));
      await step('samples of a cell', () => bytesOf(`${path}/samples?x=3000&y=2000&width=600&height=600`));
      await step('first Reading', async () => {
        for (;;) {
          const found = await (await fetch(url + path)).json();
          if (found.firstReading.state !== 'waiting') return;
          await new Promise((resolve) => setTimeout(resolve, 200));
        }
      });
      const whole = [{ kind: 'fill' as const }];
      await step('Reading over a mask of all of it', () =>
        sendJson(`${url}${path}/reading`, 'POST', { box: null, mask: whole }),
      );
      const empty = emptyPrescription();
      const { trialId: _, ...recovery } = { ...automaticRecovery('missed-focus', null, 60, null), trialId: null };
      const prescription: Prescription = {
        ...empty,
        mask: {
          ...empty.mask,
          operations: [
            {
              kind: 'radial',
              mode: 'add',
              x: width / 2,
              y: height / 2,
              rx: width / 9,
              ry: height / 9,
              featherPercent: 30,
            },
          ],
        },
        recovery: { ...recovery, trialId: null },
      };
      await sendJson(`${url}${path}/prescription`, 'PUT', { revision: 0, prescription });
      await step('the mask as a PNG', () => bytesOf(`${path}/mask.png`));
      for (const format of ['tiff16', 'jpeg', 'png16']) {
        await step(`render, ${format}, mask of 4 %`, async () => {
          const job = await sendJson<{ id: string }>(`${url}/api/renders`, 'POST', {
            frameId: frame.id,
            revision: 1,
            format,
          });
          for (;;) {
            const all = (await (await fetch(`${url}/api/renders`)).json()) as {
              id: string;
              state: string;
              error: string;
            }[];
            const { state, error } = all.find(({ id }) => id === job.id)!;
            if (state === 'done') return;
            if (state === 'failed') throw new Error(error);
            await new Promise((resolve) => setTimeout(resolve, 300));
          }
        });
      }
    } finally {
      await endServer(server);
      await rm(data, { recursive: true });
    }
  }
  return tally.outcome;
}
