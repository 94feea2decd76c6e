// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { BeginTour, Tour } from '../src/practice/Tour';
import { useTourStore } from '../src/stores/tourStore';

function Where() {
  return <output>{useLocation().pathname}</output>;
}

function open() {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <BeginTour />
        <Tour />
        <Where />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));

beforeEach(() => {
  useTourStore.setState({ frameId: null, step: 0, isClosed: false });
  vi.stubGlobal(
    'fetch',
    vi.fn(
      async () =>
        new Response(JSON.stringify({ frameId: 'f7' }), {
          status: 201,
          headers: { 'content-type': 'application/json' },
        }),
    ),
  );
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

it('photographs its case, leads through five steps and back, and is over when it is done', async () => {
  open();
  expect(screen.queryByLabelText('Tour')).toBeNull();
  press('Take the tour, five steps');
  await waitFor(() => expect(screen.getByText('1 of 5')).toBeTruthy());
  await waitFor(() => expect(screen.getByText('/frames/f7/measure')).toBeTruthy());
  press('Next');
  expect(screen.getByText('/frames/f7/mask')).toBeTruthy();
  press('Back');
  for (let i = 0; i < 4; i++) press('Next');
  expect(screen.getByText('/frames/f7/hand-over')).toBeTruthy();
  press('Done');
  expect(screen.queryByLabelText('Tour')).toBeNull();
  expect(useTourStore.getState().isClosed).toBe(true);
});

it('closed in the middle it is not offered again', async () => {
  open();
  press('Take the tour, five steps');
  await waitFor(() => expect(screen.getByText('1 of 5')).toBeTruthy());
  press('close for good');
  expect(useTourStore.getState()).toMatchObject({ frameId: null, isClosed: true });
});
