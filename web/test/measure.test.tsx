// @vitest-environment jsdom
import { QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { queries } from '../src/api/queryClient';
import { MeasureHere } from '../src/measure/MeasureHere';
import { NoiseChart } from '../src/measure/NoiseChart';
import { Overrule } from '../src/measure/Overrule';
import { useFrameStore } from '../src/stores/frameStore';
import { FRAME, openPage, plan, READING } from './page';

vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: {} }));

const FOUND = {
  cause: { method: 'straight-movement', blurSizePx: 11, directionDeg: 30 },
  runnerUp: null,
  sizes: [],
  confidence: 0.9,
  noise: READING.noise,
  grain: null,
  traces: null,
  floor: [1e-5, 1e-5, 1e-5],
  noisePercent: 1,
  clippedWhitePercent: 0,
  clippedBlackPercent: 0,
  signal: 1e-5,
  finestNowPx: 5,
  finestRecoverablePx: 3,
  pile: 'soft',
};
let asked: { path: string; body: { box: unknown; mask: unknown } }[] = [];
let isDown = false;

beforeEach(() => {
  [asked, isDown] = [[], false];
  queries.clear();
  vi.stubGlobal('fetch', async (path: string, { body = '{}' }: { body?: string } = {}) => {
    if (!path.endsWith('/reading')) return Response.json({ revision: 4 });
    asked.push({ path, body: JSON.parse(body) as { box: unknown; mask: unknown } });
    if (isDown) return Response.json({ code: 'READING_AREA', error: 'The mask is too small.' }, { status: 422 });
    return Response.json(FOUND);
  });
});

function Here({ hasPlaces = false }: { hasPlaces?: boolean }) {
  const prescription = useFrameStore((state) => state.prescription!);
  return (
    <QueryClientProvider client={queries}>
      <MeasureHere frame={FRAME} prescription={prescription} hasPlaces={hasPlaces} />
    </QueryClientProvider>
  );
}

describe('measuring', () => {
  it('over the box as long as there is no mask, over the mask then; what was found is accepted', async () => {
    openPage((old) => ({ ...old, box: { x: 10, y: 20, width: 100, height: 90 } }));
    render(<Here />);
    await userEvent.click(screen.getByRole('button', { name: 'Measure here' }));
    await vi.waitFor(() => expect(plan().reading!.method).toBe('straight-movement'));
    expect(asked[0].body).toEqual({ box: { x: 10, y: 20, width: 100, height: 90 }, mask: null });
    expect(plan().reading!.measured.over.kind).toBe('box');
    const operations = [{ kind: 'fill' as const }];
    useFrameStore.getState().change((old) => ({ ...old, mask: { ...old.mask, operations } }));
    expect(await screen.findByText('Over the mask “subject”')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Measure here' }));
    await vi.waitFor(() => expect(plan().reading!.measured.over.kind).toBe('mask'));
    expect(asked[1].body).toEqual({ box: null, mask: operations });
  });

  it('the box goes back to the centre', async () => {
    openPage((old) => ({ ...old, box: { x: 10, y: 20, width: 100, height: 90 } }));
    render(<Here />);
    await userEvent.click(screen.getByRole('button', { name: 'Box to the centre' }));
    expect(plan().box).toBeNull();
    expect(screen.queryByRole('button', { name: 'Box to the centre' })).toBeNull();
  });

  it('says why it could not be measured, and keeps what was read before', async () => {
    isDown = true;
    openPage();
    render(<Here />);
    await userEvent.click(screen.getByRole('button', { name: 'Measure here' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The mask is too small.');
    expect(plan().reading).toEqual(READING);
  });

  it('offers to show the blur only where it was measured by place', () => {
    openPage();
    const { rerender } = render(<Here />);
    expect(screen.queryByRole('switch')).toBeNull();
    rerender(<Here hasPlaces />);
    expect(screen.getByLabelText(/show the blur/)).toBeTruthy();
  });
});

function Hand() {
  const reading = useFrameStore((state) => state.prescription!.reading!);
  return <Overrule reading={reading} />;
}

describe('what was read, overruled', () => {
  it('another cause or size is the person’s; one press takes Automatic again', async () => {
    openPage();
    render(<Hand />);
    expect(screen.getByText('automatic')).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('Cause of the blur'), 'straight-movement');
    expect(plan().reading).toMatchObject({ method: 'straight-movement', auto: false, sizes: [] });
    fireEvent.change(screen.getByLabelText('Direction'), { target: { value: '70' } });
    expect(plan().reading!.directionDeg).toBe(70);
    await userEvent.click(screen.getByRole('button', { name: /Back to Automatic: Missed focus, 7.0 px across/ }));
    expect(plan().reading).toEqual(READING);
  });

  it('nothing to recover has no size', async () => {
    openPage();
    render(<Hand />);
    await userEvent.selectOptions(screen.getByLabelText('Cause of the blur'), 'none');
    expect(plan().reading).toMatchObject({ method: null, blurSizePx: 0 });
    expect(screen.queryByLabelText('Blur size')).toBeNull();
  });
});

describe('the noise chart', () => {
  it('draws a line a channel, told apart by dash', () => {
    const { container } = render(<NoiseChart noise={READING.noise} />);
    const lines = [...container.querySelectorAll('path')].filter((path) => path.getAttribute('d')?.startsWith('M'));
    expect(lines.length).toBeGreaterThanOrEqual(3);
    expect(new Set(lines.slice(-3).map((path) => path.getAttribute('stroke-dasharray'))).size).toBe(3);
  });
});
