// @vitest-environment jsdom
import { render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { expect, it, vi } from 'vitest';
import { STARTING_AMOUNT, suggestedStart, type Prescription } from '@vitrocept/core';
import { useFrameStore } from '../src/stores/frameStore';
import { StrongestSafe } from '../src/trials/StrongestSafe';
import { useProposedAmounts } from '../src/trials/useStrongestSafe';
import { FRAME, openPage, plan } from './page';

const engine = vi.hoisted(() => ({ strongestSafe: vi.fn() }));
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: engine }));

let made = 0;
const proposed = (old: Prescription) => ({
  ...suggestedStart(old, { x: 40, y: 50 }, () => `p${made++}`),
  proposed: ['trials'] as const,
});

function Page() {
  const prescription = useFrameStore((state) => state.prescription!);
  useProposedAmounts(FRAME, prescription);
  return (
    <MemoryRouter>
      <StrongestSafe frame={FRAME} prescription={prescription} trial={prescription.trials[0]} />
    </MemoryRouter>
  );
}

it('proposals get their strongest safe amount; where nothing is safe they are shown all the same, and that is said', async () => {
  const limit = { figure: 'unproven', atAmount: 4, place: { x: 41, y: 50 } };
  engine.strongestSafe
    .mockResolvedValueOnce({ amount: 0, limit, figures: [] })
    .mockResolvedValue({ amount: 72, limit: { ...limit, atAmount: 75 }, figures: [] });
  openPage(proposed as never);
  render(<Page />);
  const { length } = plan().trials;
  await waitFor(() => expect(engine.strongestSafe).toHaveBeenCalledTimes(length));
  await waitFor(() => expect(plan().trials[1].amount).toEqual({ value: 72, auto: true }));
  expect(plan().trials[0].amount).toEqual({ value: STARTING_AMOUNT, auto: true });
  expect(screen.getByText(/nothing is safe; at 4 %: .* Shown at 60 % all the same/)).toBeTruthy();
  // Nobody looks for it again.
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(engine.strongestSafe).toHaveBeenCalledTimes(length);
});
