// @vitest-environment jsdom
import { QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { MemoryRouter, Outlet, Route, Routes } from 'react-router';
import { emptyPrescription } from '@vitrocept/core';
import type { RenderJob } from '@vitrocept/server';
import { queries } from '../src/api/queryClient';
import type { FrameDetail } from '../src/api/queries';
import { HandOver } from '../src/handOver/HandOver';
import { Renders } from '../src/renders/Renders';
import { useFrameStore } from '../src/stores/frameStore';

// Pixels are not looked at here, and there are no workers.
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: {} }));

const exposure = { iso: 1600, shutterS: 0.002, fNumber: 4.5, focalLengthMm: 300, lens: null, camera: null };
const frame = {
  id: 'frame',
  name: 'frame.jpg',
  width: 400,
  height: 300,
  bits: 8,
  profile: 'sRGB',
  exposure,
  saved: { revision: 4, prescription: emptyPrescription() },
} as unknown as FrameDetail;

let isDown = false;
let jobs: RenderJob[] = [];
let sent: { method: string; path: string; body: Record<string, unknown> }[] = [];

const job = (change: Partial<RenderJob>): RenderJob => ({
  id: 'job',
  frameId: 'frame',
  frameName: 'frame.jpg',
  format: 'jpeg',
  stages: ['recovered'],
  quality: 80,
  wishes: { colour: 'as-original', metadata: 'all', ppi: null, namePattern: '{frame}-{stage}' },
  state: 'queued',
  tilesDone: 0,
  tilesAll: 0,
  queuedAt: '',
  startedAt: null,
  finishedAt: null,
  fileName: null,
  fileBytes: null,
  error: null,
  ...change,
});

beforeEach(() => {
  [isDown, jobs, sent] = [false, [], []];
  queries.clear();
  vi.stubGlobal(
    'fetch',
    async (path: string, { method = 'GET', body = '{}' }: { method?: string; body?: string } = {}) => {
      if (method !== 'GET') sent.push({ method, path, body: JSON.parse(body) as Record<string, unknown> });
      if (method === 'PUT' && isDown) throw new TypeError('no connection');
      if (method === 'PUT') return Response.json({ revision: 5 });
      return Response.json(path === '/api/renders' && method === 'GET' ? jobs : job({}));
    },
  );
  useFrameStore.getState().open(frame);
});

afterEach(() => {
  cleanup();
  useFrameStore.getState().forgetPage();
});

function show() {
  const context = { frame, prescription: useFrameStore.getState().prescription!, leftFoot: null };
  return render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={['/']}>
        <Routes>
          <Route element={<Outlet context={context} />}>
            <Route index element={<HandOver />} />
          </Route>
          <Route path="/renders" element={<Renders />} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const change = () =>
  useFrameStore.getState().change((old) => ({ ...old, box: { x: 0, y: 0, width: 100, height: 100 } }));
const press = () => userEvent.click(screen.getByRole('button', { name: 'Render and save a copy' }));
const posts = () => sent.filter(({ method }) => method === 'POST');

it('a render waits for the last save and names the revision it means', async () => {
  change();
  show();
  await press();
  await waitFor(() => expect(posts()).toHaveLength(1));
  expect(sent.map(({ method }) => method)).toEqual(['PUT', 'POST']);
  expect(posts()[0].body).toMatchObject({ frameId: 'frame', revision: 5, format: 'tiff16', stages: ['original'] });
});

it('with nothing changed it names the revision that was loaded', async () => {
  show();
  await press();
  await waitFor(() => expect(posts()).toHaveLength(1));
  expect(posts()[0].body.revision).toBe(4);
});

it('where the last change cannot be saved nothing is started, and it says so', async () => {
  isDown = true;
  change();
  show();
  await press();
  expect((await screen.findByText(/The last change is not saved yet, so nothing was started/)).className).toMatch(
    /damaged/,
  );
  expect(posts()).toEqual([]);
});

it('a JPEG has a quality, 1 to 100', async () => {
  show();
  await userEvent.click(screen.getByText('JPEG'));
  const quality = screen.getByLabelText<HTMLInputElement>('Quality, number');
  await userEvent.clear(quality);
  await userEvent.type(quality, '300{Enter}');
  await press();
  await waitFor(() => expect(posts()).toHaveLength(1));
  expect(posts()[0].body).toMatchObject({ format: 'jpeg', quality: 100 });
});

it('a copy is sharpened only where somebody says so, as part of the prescription', async () => {
  show();
  const field = await screen.findByLabelText('Output sharpening in percent');
  expect((field as HTMLInputElement).value).toBe('0');
  expect(useFrameStore.getState().prescription!.outputSharpeningPercent).toBeUndefined();
  await userEvent.clear(field);
  await userEvent.type(field, '35{Enter}');
  expect(useFrameStore.getState().prescription!.outputSharpeningPercent).toBe(35);
});

it('renders show their state, progress, reason and what can be done', async () => {
  jobs = [
    job({
      id: 'a',
      state: 'running',
      tilesDone: 3,
      tilesAll: 12,
      startedAt: new Date(Date.now() - 6000).toISOString(),
    }),
    job({ id: 'b', state: 'failed', error: 'The disk is full.' }),
    job({ id: 'c', state: 'done', fileName: 'frame-recovered.jpg', fileBytes: 2_000_000 }),
  ];
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={['/renders']}>
        <Routes>
          <Route path="/renders" element={<Renders />} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  expect(await screen.findByText(/3 of 12 tiles/)).toBeTruthy();
  expect(screen.getByText('The disk is full.')).toBeTruthy();
  expect(screen.getByText('frame-recovered.jpg')).toBeTruthy();
  await userEvent.click(screen.getByRole('button', { name: 'Stop' }));
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(posts().map(({ path }) => path)).toEqual(['/api/renders/a/stop', '/api/renders/b/retry']);
  expect(screen.getByRole('link', { name: 'Download' }).getAttribute('href')).toBe('/api/renders/c/file');
});
