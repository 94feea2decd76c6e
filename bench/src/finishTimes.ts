import { loadavg } from 'node:os';
import {
  addLocalChange,
  emptyPrescription,
  withCorrection,
  withCrop,
  withGeometry,
  withLocal,
  withVignette,
  type Prescription,
} from '@vitrocept/core';
import { withFreshServer } from './freshServer';
import { serverAt, until, type Server } from './serverAt';
import { SOFT_SIZE, softFrame } from './softFrame';

interface Answer {
  readonly id: string;
  readonly state: string;
  readonly frames: readonly { readonly id: string; readonly state: string }[];
  readonly saved: { readonly revision: number };
}

/** What corrections, a crop, an enlargement by half and three local changes add to a render of 24 megapixels. */
export async function finishTimes(): Promise<void> {
  console.log(`load ${loadavg()[0].toFixed(2)}`);
  await withFreshServer(async (url, pid) => {
    const server = serverAt(url, pid);
    const { id } = await server.send<Answer>('POST', '/api/shoots', { name: 'Finish' });
    await server.upload(id, 'large.jpg', await softFrame());
    const frames = async () => (await server.get<Answer>(`/api/shoots/${id}`)).frames;
    await until(async () => (await frames())[0]?.state === 'sorted');
    const frameId = (await frames())[0].id;
    const plain = await timed(server, frameId, emptyPrescription());
    const full = await timed(server, frameId, finished());
    const print = ({ seconds, cpu }: Timed) => `${seconds.toFixed(1)} s, ${cpu.toFixed(1)} CPU s`;
    console.log(`a copy as taken: ${print(plain)}`);
    console.log(`corrected, cropped, enlarged 1.5 ×, three local changes: ${print(full)}`);
    console.log(`most memory, decoded samples and all: ${server.mostMemory().toFixed(2)} GiB (wanted under 1.5)`);
    console.log(`added: ${(full.seconds - plain.seconds).toFixed(1)} s (wanted 6)`);
  });
}

interface Timed {
  readonly seconds: number;
  readonly cpu: number;
}

async function timed(server: Server, frameId: string, prescription: Prescription): Promise<Timed> {
  const { saved } = await server.get<Answer>(`/api/frames/${frameId}`);
  const body = { revision: saved.revision, prescription };
  const { revision } = await server.send<{ revision: number }>('PUT', `/api/frames/${frameId}/prescription`, body);
  const began = performance.now();
  const cpu = server.cpuSeconds();
  const job = await server.send<Answer>('POST', '/api/renders', { frameId, revision, format: 'png8' });
  await until(async () => {
    const jobs = await server.get<readonly Answer[]>('/api/renders');
    return jobs.find((one) => one.id === job.id)?.state === 'done';
  });
  return { seconds: (performance.now() - began) / 1000, cpu: server.cpuSeconds() - cpu };
}

function finished(): Prescription {
  let old = withCorrection(emptyPrescription(), 'exposureEv', 0.4);
  old = withCorrection(old, 'liftShadows', 40);
  old = withCorrection(old, 'holdHighlights', 30);
  old = withCorrection(old, 'whitePercent', 96);
  const { width, height } = SOFT_SIZE;
  old = withCrop(old, SOFT_SIZE, { x: 300, y: 200, width: width * 0.8, height: height * 0.8 });
  old = withGeometry(old, (geometry) => ({ ...geometry, enlarge: 1.5 }));
  for (const [i, x] of [0.3, 0.5, 0.7].entries()) {
    const oval = {
      kind: 'radial',
      mode: 'add',
      x: width * x,
      y: height * 0.5,
      rx: width * 0.12,
      ry: height * 0.2,
      featherPercent: 60,
    } as const;
    old = addLocalChange(old, `oval ${i}`, [oval], () => `oval-${i}`);
    old = withLocal(withLocal(old, `oval-${i}`, 'exposureEv', 0.3), `oval-${i}`, 'localContrast', 20);
  }
  return withVignette(old, { cornerPercent: -20 });
}
