// @vitest-environment jsdom
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import type { AcceptedReading } from '@vitrocept/core';
import { useFrameStore } from '../src/stores/frameStore';
import { NothingToRecover } from '../src/trials/NothingToRecover';
import { FRAME, openPage, plan, READING } from './page';

// jsdom has no canvas.
vi.mock('../src/surfaces/FrameSurface', () => ({ FrameSurface: ({ label }: { label: string }) => <p>{label}</p> }));

const NONE: AcceptedReading = {
  ...READING,
  method: null,
  measured: { ...READING.measured, method: null, finestNowPx: 2.4, leftAlone: 'would-harm' },
};

function Page() {
  const prescription = useFrameStore((state) => state.prescription!);
  return (
    <MemoryRouter initialEntries={['/frames/frame/trials']}>
      <Routes>
        <Route path="/frames/:id">
          <Route
            path="trials"
            element={<NothingToRecover frame={FRAME} prescription={prescription} reading={prescription.reading!} />}
          />
          <Route path="noise" element={<p>the Noise step</p>} />
        </Route>
      </Routes>
    </MemoryRouter>
  );
}

const opened = (reading: AcceptedReading) => openPage((old) => ({ ...old, reading }));

describe('a frame with nothing to recover', () => {
  it('stands large, says why, and what could still be tried', async () => {
    opened(NONE);
    render(<Page />);
    expect(screen.getByText('The original')).toBeTruthy();
    expect(screen.getByText(/explained the photograph worse than it is.*2\.4 px/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Try Straight movement all the same' }));
    expect(plan().trials).toMatchObject([{ method: 'straight-movement' }]);
    expect(plan().probes).toHaveLength(1);
  });

  it('leads to cleaning where there is noise to clean', async () => {
    opened(NONE);
    render(<Page />);
    await userEvent.click(screen.getByRole('button', { name: 'Clean the noise (1.0 %)' }));
    expect(screen.getByText('the Noise step')).toBeTruthy();
  });

  it('offers no cleaning where there is hardly any noise', () => {
    opened({ ...NONE, measured: { ...NONE.measured, noisePercent: 0.2 } });
    render(<Page />);
    expect(screen.queryByRole('button', { name: /Clean the noise/ })).toBeNull();
  });

  it('that the hand set to nothing does not speak of a measurement', () => {
    opened({ ...NONE, auto: false });
    render(<Page />);
    expect(screen.getByText(/^Set by hand to nothing/)).toBeTruthy();
  });
});
