import { mkdtemp, rm } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { emptyPrescription } from '@vitrocept/core';
import { seeded, Tally, type Outcome } from './outcome';
import { smallPng } from './pictures';
import { endServer, newShoot, sendFile, startServer } from './server';

const NOWHERE = '00000000-0000-4000-8000-000000000000';

interface Wish {
  readonly method: string;
  readonly path: string;
  readonly headers: Record<string, string>;
  readonly body: string | null;
}

/** Sends requests that no page would send: each gets an answer below 500, without a look inside. */
export async function hostileRequests(count: number, seed = 11): Promise<Outcome> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-requests-'));
  const server = await startServer(data);
  const { url } = server;
  const shoot = await newShoot(url, 'asked');
  const came = await sendFile(`${url}/api/shoots/${shoot}/frames`, 'asked.png', await smallPng(1, 200));
  const { id: frame } = (await came.json()) as { id: string };
  const random = seeded(seed);
  const tally = new Tally();
  for (let i = 0; i < count && server.child.exitCode === null; i++) {
    const wish = wished(random, shoot, frame);
    const { status, text } = await asked(url, wish).catch((error: Error) => ({ status: 0, text: error.message }));
    const told = `${wish.method} ${wish.path} ${wish.body?.slice(0, 120) ?? ''}`;
    if (status === 0 || status >= 500)
      tally.add(`request ${i} (seed ${seed}): ${told}: ${status} ${text.slice(0, 200)}`);
    else if (status >= 400 && /node_modules|\.ts:\d|\/tmp\//.test(text))
      tally.add(`request ${i}: shows its inside: ${text}`);
    else tally.add(null);
  }
  tally.add((await fetch(`${url}/api/shoots`)).ok ? null : 'afterwards the server does not answer');
  await endServer(server);
  for (const line of server.log.filter((text) => /unhandled|: \w*Error:/.test(text))) tally.add(line);
  await rm(data, { recursive: true, force: true });
  return tally.outcome;
}

function wished(random: () => number, shoot: string, frame: string): Wish {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const odd = () =>
    pick<unknown>([
      null,
      true,
      -1,
      0,
      1e308,
      100.5,
      '',
      'x'.repeat(3000),
      [],
      {},
      '../../etc/passwd',
      NaN,
      ['a'],
      { a: 1 },
      '\u0000',
      '<b>',
    ]);
  const id = () => pick([shoot, frame, frame, frame, NOWHERE, 'x', '..%2f..%2fetc', '%00', '%E0%A4%A', `${frame}/..`]);
  const number = () => pick(['0', '-5', '99999', '1.5', 'NaN', '', '1e9', '%20', '64']);
  const region = () => `x=${number()}&y=${number()}&width=${number()}&height=${number()}`;
  const path = pick([
    () => '/api/shoots',
    () => `/api/shoots/${id()}`,
    () => `/api/shoots/${id()}/frames`,
    () => `/api/frames/${id()}`,
    () => `/api/frames/${id()}/view.jpg?side=${number()}`,
    () => `/api/frames/${id()}/tones?a=${number()}`,
    () => `/api/frames/${id()}/clipping.png?side=${number()}`,
    () => `/api/frames/${id()}/profile`,
    () => `/api/frames/${id()}/samples?${region()}`,
    () => `/api/frames/${id()}/original`,
    () => `/api/frames/${id()}/reading`,
    () => `/api/frames/${id()}/prescription`,
    () => `/api/frames/${id()}/mask.png?bits=${number()}`,
    () => `/api/frames/${id()}/mask.tiff`,
    () => `/api/frames/${id()}/mask-file`,
    () => `/api/frames/${id()}/versions`,
    () => `/api/frames/${id()}/versions/${id()}/samples?${region()}`,
    () => `/api/frames/${id()}/versions/${id()}/restore`,
    () => '/api/renders',
    () => `/api/renders/${id()}/${pick(['stop', 'retry', 'file', 'x'])}`,
    () => '/../../../etc/passwd',
    () => '/%2e%2e/%2e%2e/etc/passwd',
    () => `/${'a/'.repeat(200)}`,
  ])();
  const body = pick([
    () => null,
    () => '{"name":',
    () => JSON.stringify({ name: odd() }),
    () => JSON.stringify({ frameId: odd(), revision: odd(), format: odd(), quality: odd(), stages: odd() }),
    () =>
      JSON.stringify({
        frameId: frame,
        revision: 0,
        format: pick(['tiff16', 'exe']),
        [pick(['a', '__proto__'])]: odd(),
      }),
    () => JSON.stringify({ box: { x: odd(), y: odd(), width: odd(), height: odd() }, mask: null }),
    () => JSON.stringify({ box: { x: 10, y: 10, width: 100.5, height: 80 }, mask: odd() }),
    () =>
      JSON.stringify({
        box: null,
        mask: [{ kind: pick(['stroke', 'area', 'grow', 'melt']), points: odd(), px: odd() }],
      }),
    () => JSON.stringify({ revision: odd(), prescription: odd() }),
    () =>
      JSON.stringify({
        revision: 0,
        prescription: { ...emptyPrescription(), [pick(['trials', 'mask', 'reading', 'x'])]: odd() },
      }),
    () => `${'['.repeat(5000)}`,
    () => 'x'.repeat(2000),
  ])();
  const headers: Record<string, string> = {};
  if (body !== null || random() < 0.3)
    headers['content-type'] = pick([
      'application/json',
      'application/json',
      'text/plain',
      'multipart/form-data',
      'multipart/form-data; boundary=x',
    ]);
  if (random() < 0.1) headers.host = pick(['saltmere.example', '', '127.0.0.1.saltmere.example', 'localhost:1']);
  if (random() < 0.1) headers.origin = pick(['http://saltmere.example', 'null', 'x']);
  return { method: pick(['GET', 'POST', 'POST', 'PUT', 'DELETE', 'PATCH']), path, headers, body };
}

/** By hand, so that paths and hosts go out as they are. */
function asked(url: string, { method, path, headers, body }: Wish): Promise<{ status: number; text: string }> {
  const { hostname, port } = new URL(url);
  // Without a length the body of a GET would be taken for the next request.
  const sized = body === null ? headers : { ...headers, 'content-length': String(Buffer.byteLength(body)) };
  return new Promise((resolve, reject) => {
    // A connection each: the server may end one after a refusal.
    const outgoing = request(
      { hostname, port, method, path, headers: sized, agent: false, timeout: 20_000 },
      (answer) => {
        let text = '';
        answer.setEncoding('latin1');
        answer.on('data', (chunk: string) => (text.length < 5000 ? (text += chunk) : null));
        answer.on('end', () => resolve({ status: answer.statusCode ?? 0, text }));
        answer.on('error', reject);
      },
    );
    outgoing.on('timeout', () => outgoing.destroy(new Error('no answer within 20 s')));
    outgoing.on('error', reject);
    outgoing.end(body ?? undefined);
  });
}
