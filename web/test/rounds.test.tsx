// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { STARTER_PRESCRIPTIONS } from '@vitrocept/core';
import type { RoundJob, RoundSummary } from '@vitrocept/server';
import { HandOffFolders } from '../src/handOff/HandOffFolders';
import { KeptPrescriptions } from '../src/kept/KeptPrescriptions';
import { LookThrough } from '../src/rounds/LookThrough';
import { roundWords } from '../src/rounds/Rounds';

afterEach(cleanup);

interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

const asked: Asked[] = [];
let answer: (asked: Asked) => Response;

beforeEach(() => {
  asked.length = 0;
  answer = () => Response.json({});
  Element.prototype.scrollIntoView = () => undefined;
  vi.stubGlobal('fetch', async (path: string, { method = 'GET', body }: RequestInit = {}) => {
    const one = { method, path, body: body ? (JSON.parse(String(body)) as unknown) : null };
    if (method !== 'GET') asked.push(one);
    return answer(one);
  });
});

const job = (id: string, part: Partial<RoundJob> = {}): RoundJob => ({
  id,
  roundId: 'r',
  frameId: `frame-${id}`,
  frameName: `${id}.jpg`,
  megapixels: 1,
  place: 0,
  state: 'done',
  reasons: [],
  judgement: {
    amount: 70,
    limit: null,
    worst: { figure: 'halo', verdict: 'safe', value: 3, place: null },
    place: null,
  },
  fileName: `${id}.tiff`,
  fileBytes: 1,
  outcome: null,
  error: null,
  seconds: 3,
  ...part,
});

function show(page: React.ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <Routes>
          <Route path="/" element={page} />
          <Route path="/frames/:id/trials" element={<p>the frame</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

describe('looking a round through', () => {
  const JOBS = [job('one'), job('two', { reasons: ['unsure', 'check'] }), job('three', { outcome: 'taken-back' })];

  it('says of each frame what the audit found and why it wants a look', () => {
    show(<LookThrough roundId="r" jobs={JOBS} />);
    const two = screen.getByRole('article', { name: 'two.jpg' });
    expect(within(two).getByText(/Halo 3 %/)).toBeTruthy();
    expect(within(two).getByText('A look: the cause was unsure, the audit says check.')).toBeTruthy();
    expect(within(two).getByText('70 %')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Shown'), { target: { value: 'look' } });
    expect(screen.getAllByRole('article')).toHaveLength(1);
    fireEvent.change(screen.getByLabelText('Shown'), { target: { value: 'open' } });
    expect(screen.getAllByRole('article').map((one) => one.getAttribute('aria-label'))).toEqual(['one.jpg', 'two.jpg']);
  });

  it('accepts, takes back and gives again by keys alone', async () => {
    show(<LookThrough roundId="r" jobs={JOBS} />);
    fireEvent.keyDown(document.body, { key: 'Enter' });
    fireEvent.keyDown(document.body, { key: 'ArrowRight' });
    fireEvent.keyDown(document.body, { key: 'b' });
    fireEvent.keyDown(document.body, { key: 'ArrowRight' });
    fireEvent.keyDown(document.body, { key: 'b' });
    await waitFor(() => expect(asked).toHaveLength(3));
    expect(asked.map(({ path, body }) => [path, body])).toEqual([
      ['/api/round-jobs/one/outcome', { outcome: 'accepted' }],
      ['/api/round-jobs/two/outcome', { outcome: 'taken-back' }],
      ['/api/round-jobs/three/outcome', { outcome: null }],
    ]);
  });

  it('accepts all but what was taken back', async () => {
    show(<LookThrough roundId="r" jobs={JOBS} />);
    fireEvent.click(screen.getByRole('button', { name: 'Accept all shown' }));
    await waitFor(() => expect(asked).toHaveLength(2));
    expect(asked.map(({ path }) => path.split('/')[3])).toEqual(['one', 'two']);
  });

  it('holds the original over the result while 0 is down', () => {
    show(<LookThrough roundId="r" jobs={[job('one')]} />);
    const shown = () =>
      [...document.querySelectorAll('.look-pair img')].map((picture) => picture.getAttribute('src')!.split('/').at(-1));
    expect(shown()).toEqual(['before.jpg', 'after.jpg']);
    fireEvent.keyDown(document.body, { key: '0' });
    expect(shown()).toEqual(['before.jpg', 'before.jpg']);
    fireEvent.keyUp(document.body, { key: '0' });
    expect(shown()).toEqual(['before.jpg', 'after.jpg']);
  });

  it('asks before work of one’s own is replaced', async () => {
    answer = ({ body }) =>
      (body as { replace?: boolean }).replace
        ? Response.json({ revision: 2 })
        : Response.json({ code: 'HAS_WORK', error: 'It has work of its own.' }, { status: 409 });
    show(<LookThrough roundId="r" jobs={[job('one')]} />);
    fireEvent.click(screen.getByRole('button', { name: 'open' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Replace and open' }));
    expect(await screen.findByText('the frame')).toBeTruthy();
    expect(asked.map(({ body }) => body)).toEqual([{}, { replace: true }]);
  });
});

describe('a round in words', () => {
  const summary = { state: 'going', note: null, secondsLeft: 65 } as RoundSummary;
  it('how far it is, and how long it takes yet', () => {
    const counts = { left: 3, done: 2, needsLook: 1, failed: 1, stopped: 0 };
    expect(roundWords({ ...summary, counts })).toBe(
      'under way · 2 done · 3 to come · 1 want a look · 1 failed · about 65 s left',
    );
    expect(roundWords({ ...summary, counts, secondsLeft: null })).toContain('estimating');
    expect(roundWords({ ...summary, state: 'paused', counts, note: 'The disk is full.' })).toContain(
      'The disk is full.',
    );
  });
});

describe('kept prescriptions', () => {
  it('are listed with what they do; one is renamed, one removed and taken back', async () => {
    const all = STARTER_PRESCRIPTIONS.slice(0, 2).map((kept, i) => ({ id: `k${i}`, kept, sentence: `Does ${i}.` }));
    answer = ({ method, path }) => Response.json(method === 'GET' && path === '/api/kept' ? all : {});
    show(<KeptPrescriptions />);
    const first = await screen.findByRole('article', { name: all[0].kept.name });
    expect(within(first).getByText('Does 0.')).toBeTruthy();
    const name = within(first).getByLabelText('Name');
    fireEvent.change(name, { target: { value: 'Owls' } });
    fireEvent.blur(name);
    await waitFor(() =>
      expect(asked.at(-1)).toMatchObject({ method: 'PATCH', path: '/api/kept/k0', body: { name: 'Owls' } }),
    );
    fireEvent.click(within(first).getByRole('button', { name: 'Remove' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Take it back' }));
    await waitFor(() => expect(asked.at(-1)).toMatchObject({ path: '/api/kept/k0/restore' }));
  });
});

describe('hand-off folders', () => {
  const folder = {
    id: 'h',
    folder: 'Reeds',
    shootId: 's',
    shootName: 'Tethered',
    keptId: 'k',
    keptName: 'Clean only',
    format: 'png8',
    quality: 92,
    roundId: 'r',
    inbox: '/data/hand-off/Reeds',
    results: '/data/outbox/Reeds',
    files: [
      { id: 'f', name: 'heron.png', frameId: 'x', error: null, cameAt: '' },
      { id: 'g', name: 'letter.jpg', frameId: null, error: 'This is no picture.', cameAt: '' },
    ],
  };
  const listed = { id: 'k', kept: { ...STARTER_PRESCRIPTIONS[2], name: 'Clean only' }, sentence: '' };
  beforeEach(() => {
    answer = ({ method, path }) => {
      if (method !== 'GET') return Response.json(folder);
      if (path === '/api/shoots') return Response.json([{ id: 's', name: 'Tethered' }]);
      return Response.json(path === '/api/kept' ? [listed] : [folder]);
    };
  });

  it('say where files go, what came of each, and change what is done by itself', async () => {
    show(<HandOffFolders />);
    const card = await screen.findByRole('article', { name: 'Reeds' });
    expect(within(card).getByText('/data/hand-off/Reeds')).toBeTruthy();
    expect(within(card).getByText('refused: This is no picture.')).toBeTruthy();
    expect(within(card).getByRole('link', { name: 'heron.png' }).getAttribute('href')).toBe('/frames/x');
    fireEvent.change(within(card).getByLabelText('Prescription of Reeds'), { target: { value: '' } });
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0]).toMatchObject({
      method: 'PUT',
      path: '/api/hand-offs/h',
      body: { shootId: 's', keptId: null, format: 'png8' },
    });
  });

  it('are given up only when asked twice, and made by a name', async () => {
    show(<HandOffFolders />);
    const card = await screen.findByRole('article', { name: 'Reeds' });
    fireEvent.click(within(card).getByText('give up …'));
    expect(asked).toEqual([]);
    fireEvent.click(within(card).getByText('watch it no more'));
    await waitFor(() => expect(asked[0]).toMatchObject({ method: 'DELETE', path: '/api/hand-offs/h' }));
    const form = await screen.findByRole('form', { name: 'New hand-off folder' });
    fireEvent.change(within(form).getByLabelText('Name'), { target: { value: ' Hide ' } });
    fireEvent.click(within(form).getByRole('button', { name: 'Watch it' }));
    await waitFor(() =>
      expect(asked[1]).toMatchObject({ method: 'POST', body: { folder: 'Hide', shootId: 's', keptId: null } }),
    );
  });
});
