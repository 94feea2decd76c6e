import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { seeded, Tally, type Outcome } from './outcome';
import { everyKind } from './pictures';
import { endServer, newShoot, sendFile, sendJson, startServer } from './server';

const MOST_MS = 10_000;

/** A whole file damaged at random: cut off, bits turned, pieces doubled, left out or blanked. */
export function mutated(bytes: Buffer, random: () => number): Buffer {
  const at = (share = 1) => Math.floor(random() * bytes.length * share);
  switch (Math.floor(random() * 6)) {
    case 0:
      return bytes.subarray(0, at());
    case 1: {
      const copy = Buffer.from(bytes);
      const turns = 1 + Math.floor(random() ** 3 * 200);
      // Half of the damage falls on the headers, where it does most.
      for (let i = 0; i < turns; i++)
        copy[random() < 0.5 ? at(Math.min(1, 400 / bytes.length)) : at()] = Math.floor(random() * 256);
      return copy;
    }
    case 2: {
      const copy = Buffer.from(bytes);
      copy.fill(Math.floor(random() * 256), at(), at());
      return copy;
    }
    case 3: {
      const [from, to] = [at(), at()].sort((a, b) => a - b);
      return Buffer.concat([bytes.subarray(0, from), bytes.subarray(to)]);
    }
    case 4: {
      const from = at();
      return Buffer.concat([bytes.subarray(0, from), bytes.subarray(at()), bytes.subarray(from)]);
    }
    default: {
      const copy = Buffer.from(bytes);
      // A length or a size that is absurd.
      for (let i = 0; i < 3; i++)
        copy.writeUInt32LE(0xfffffff0, Math.min(bytes.length - 4, at(Math.min(1, 300 / bytes.length))));
      return copy;
    }
  }
}

/**
 * Sends damaged files to the real server: each is refused with a sentence, or comes in and can be looked at.
 *
 * @param only - Kinds whose names hold this.
 */
export async function hostileFiles(count: number, only = '', seed = 7): Promise<Outcome> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-files-'));
  const server = await startServer(data);
  const { url } = server;
  const shoot = await newShoot(url, 'damaged');
  const kinds = Object.entries(await everyKind()).filter(([name]) => name.includes(only));
  const random = seeded(seed);
  const tally = new Tally();
  for (let i = 0; i < count; i++) {
    const [name, whole] = kinds[i % kinds.length];
    const bytes = i < kinds.length ? whole : mutated(whole, random);
    tally.add(
      await problemOf(url, shoot, name, bytes, i < kinds.length)
        .catch((error: Error) => error.message)
        .then((problem) => problem && `file ${i} (${name}, seed ${seed}): ${problem}`),
    );
    if (server.child.exitCode !== null) break;
  }
  if (server.child.exitCode === null) await endServer(server);
  else tally.add(`the server ended: ${server.log.slice(-3).join(' ')}`);
  for (const line of server.log.filter((text) => /unhandled|POST .*500|TypeError|RangeError/.test(text)))
    tally.add(line);
  await rm(data, { recursive: true, force: true });
  return tally.outcome;
}

async function problemOf(
  url: string,
  shoot: string,
  name: string,
  bytes: Buffer,
  isWhole: boolean,
): Promise<string | null> {
  const from = Date.now();
  const answer = await sendFile(`${url}/api/shoots/${shoot}/frames`, name, bytes);
  const body = (await answer.json()) as { id?: string; error?: string };
  if (Date.now() - from > MOST_MS) return `took ${Date.now() - from} ms`;
  if (answer.status === 422) {
    if (isWhole) return `a whole file was refused: ${body.error}`;
    return /\.$/.test(body.error ?? '') && !/\/tmp|node_modules/.test(body.error!)
      ? null
      : `refused without a proper sentence: ${body.error}`;
  }
  if (answer.status !== 201 && answer.status !== 200) return `answered ${answer.status}: ${body.error}`;
  const view = await fetch(`${url}/api/frames/${body.id}/view.jpg?side=640`);
  if (!view.ok) return `came in, but its view was answered ${view.status}`;
  return name.startsWith('told') ? problemOfCopy(url, body.id!) : null;
}

/** A copy takes over what the original says of itself, however damaged that is. */
async function problemOfCopy(url: string, frameId: string): Promise<string | null> {
  const job = await sendJson<{ id: string }>(`${url}/api/renders`, 'POST', { frameId, revision: 0, format: 'tiff16' });
  for (let i = 0; i < MOST_MS / 50; i++) {
    const jobs = (await (await fetch(`${url}/api/renders`)).json()) as { id: string; state: string; error: string }[];
    const own = jobs.find(({ id }) => id === job.id);
    if (own?.state === 'done') return null;
    if (own?.state === 'failed') return `its copy failed: ${own.error}`;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return 'its copy took too long';
}
