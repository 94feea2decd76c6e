// @vitest-environment jsdom
import { render, renderHook, screen, waitFor } from '@testing-library/react';
import { beforeEach, expect, it, vi } from 'vitest';
import { STARTING_AMOUNT, suggestedStart } from '@vitrocept/core';
import { useFrameStore } from '../src/stores/frameStore';
import { useSafestStore } from '../src/stores/safestStore';
import { StrongestSafe } from '../src/trials/StrongestSafe';
import { useProposedAmounts } from '../src/trials/useStrongestSafe';
import { FRAME, openPage, plan } from './page';

const engine = vi.hoisted(() => ({ strongestSafe: vi.fn() }));
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: engine }));

const answer = (amount: number) => ({ amount, limit: null, figures: [] });
let made = 0;
const proposedTrials = () =>
  openPage((old) => ({
    ...suggestedStart(old, { x: 40, y: 50 }, () => `p${made++}`),
    proposed: ['probes', 'trials'] as const,
  }));
const shown = () =>
  renderHook(() =>
    useProposedAmounts(
      FRAME,
      useFrameStore((state) => state.prescription!),
    ),
  );
const amounts = () => plan().trials.map(({ amount }) => amount.value);

beforeEach(() => {
  useSafestStore.setState({ found: {}, failed: [], underway: [] });
  engine.strongestSafe.mockReset();
});

it('trials that are proposed get their amounts one after the other', async () => {
  proposedTrials();
  engine.strongestSafe.mockResolvedValue(answer(22));
  shown();
  await waitFor(() => expect(amounts()).toEqual([22, 22, 22]));
  expect(engine.strongestSafe).toHaveBeenCalledTimes(3);
});

it('what was found before the page was left without saving is set, and not searched again', async () => {
  proposedTrials();
  useSafestStore.setState({ found: Object.fromEntries(plan().trials.map(({ id }) => [id, answer(31)])) });
  shown();
  await waitFor(() => expect(amounts()).toEqual([31, 31, 31]));
  expect(engine.strongestSafe).not.toHaveBeenCalled();
});

it('one that cannot be found keeps its amount, and the others are gone on with', async () => {
  proposedTrials();
  const before = amounts()[0];
  engine.strongestSafe.mockRejectedValueOnce(new Error('No.')).mockResolvedValue(answer(40));
  shown();
  await waitFor(() => expect(amounts()).toEqual([before, 40, 40]));
  expect(engine.strongestSafe).toHaveBeenCalledTimes(3);
});

it('where nothing is safe a proposal is shown all the same, that is said, and nobody looks again', async () => {
  proposedTrials();
  const limit = { figure: 'unproven', atAmount: 4, place: { x: 41, y: 50 } };
  engine.strongestSafe.mockResolvedValueOnce({ ...answer(0), limit }).mockResolvedValue(answer(72));
  shown();
  await waitFor(() => expect(amounts()).toEqual([STARTING_AMOUNT, 72, 72]));
  render(<StrongestSafe frame={FRAME} prescription={plan()} trial={plan().trials[0]} />);
  expect(screen.getByText(/nothing is safe; at 4 %: .* Shown at 60 % all the same/)).toBeTruthy();
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(engine.strongestSafe).toHaveBeenCalledTimes(3);
});
