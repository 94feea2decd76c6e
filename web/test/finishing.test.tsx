// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { MemoryRouter } from 'react-router';
import {
  addLocalChange,
  emptyPrescription,
  neutralCorrections,
  withCorrection,
  type Prescription,
} from '@vitrocept/core';
import type { FrameDetail } from '../src/api/queries';
import { CorrectionSlider } from '../src/corrections/CorrectionSlider';
import { LightChart } from '../src/corrections/LightChart';
import { EyeTools } from '../src/finishing/EyeTools';
import { FrameTools } from '../src/finishing/FrameTools';
import { WholeTools } from '../src/finishing/WholeTools';
import { correctionWords, finishingWords, framingWords } from '@vitrocept/core';
import { useFrameStore } from '../src/stores/frameStore';

vi.mock('../src/surfaces/useLitPicture', () => ({ useLitPicture: () => ({ picture: null, failure: null }) }));
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: {} }));
vi.stubGlobal('fetch', async () => Response.json({ revision: 1 }));
afterEach(() => {
  cleanup();
  useFrameStore.getState().forgetPage();
});

const FRAME = { id: 'frame', name: 'frame.jpg', width: 600, height: 400, channels: 3 };

function openFrame(prescription: Prescription = emptyPrescription()): FrameDetail {
  const frame = { ...FRAME, saved: { revision: 1, prescription } } as FrameDetail;
  useFrameStore.getState().open(frame);
  return frame;
}
const plan = () => useFrameStore.getState().prescription!;

describe('corrections', () => {
  it('a slider sets its number, and one press brings back what was taken', async () => {
    openFrame(withCorrection(emptyPrescription(), 'exposureEv', 0.75));
    render(<CorrectionSlider name="exposureEv" corrections={plan().corrections!} />);
    expect(screen.getByLabelText<HTMLInputElement>('Exposure, number').value).toBe('0.75');
    await userEvent.click(screen.getByRole('button', { name: 'back to 0.00' }));
    expect(plan().corrections).toBeUndefined();
  });

  it('the curve and the points are worked by keys alone', () => {
    const frame = openFrame();
    const chart = () => (
      <LightChart frame={frame} prescription={plan()} corrections={plan().corrections ?? neutralCorrections()} />
    );
    const { rerender } = render(chart());
    const press = (name: RegExp, key: string) => {
      fireEvent.keyDown(screen.getByRole('slider', { name }), { key });
      rerender(chart());
    };
    press(/Point 1 /, 'Insert');
    expect(plan().corrections!.curve).toHaveLength(3);
    press(/Point 2 /, 'ArrowUp');
    expect(plan().corrections!.curve[1].y).toBeCloseTo(0.51, 6);
    press(/Point 2 /, 'Delete');
    expect(plan().corrections).toBeUndefined();
    press(/White point/, 'ArrowLeft');
    expect(plan().corrections!.whitePercent.value).toBe(99);
  });
});

describe('finishing', () => {
  const levelling = { isOn: false, setOn: vi.fn(), line: null, onPointer: vi.fn() };

  it('a ratio crops, a number enlarges, turned sides are told as they will be', async () => {
    const frame = openFrame();
    const tools = () => (
      <FrameTools frame={frame} prescription={plan()} ratio={null} setRatio={vi.fn()} levelling={levelling} />
    );
    const { rerender } = render(tools());
    await userEvent.selectOptions(screen.getByLabelText('Crop'), '1 : 1');
    expect(plan().geometry!.crop).toEqual({ x: 100, y: 0, width: 400, height: 400 });
    rerender(tools());
    await userEvent.click(screen.getByRole('button', { name: 'Whole frame again' }));
    rerender(tools());
    await userEvent.click(screen.getByRole('button', { name: 'Turn right' }));
    rerender(tools());
    expect(screen.getByRole('status').textContent).toBe('400 × 600 px');
    const width = screen.getByLabelText('Enlarged, width');
    await userEvent.clear(width);
    await userEvent.type(width, '800{Enter}');
    expect(plan().geometry!.enlarge).toBe(2);
  });

  it('a fault of a setting stands with it, and its press takes the last safe value', async () => {
    openFrame({ ...emptyPrescription(), finishing: undefined });
    const fault = { localId: null, key: 'haze', what: 'grain', verdict: 'check', lastSafe: 23 } as const;
    render(<WholeTools prescription={plan()} faults={[fault]} />);
    expect(screen.getByText(/grain: check,/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'back to 23' }));
    expect(plan().finishing!.haze).toBe(23);
  });

  it('local changes are made, ordered and removed; the opposite covers what the other leaves out', async () => {
    const frame = openFrame(addLocalChange(emptyPrescription(), 'beak', [{ kind: 'fill' }], () => 'beak'));
    const tools = () => (
      <MemoryRouter>
        <EyeTools frame={frame} prescription={plan()} faults={[]} />
      </MemoryRouter>
    );
    const { rerender } = render(tools());
    await userEvent.selectOptions(screen.getByLabelText('New change under the opposite of a mask'), 'beak');
    expect(plan().finishing!.localChanges[1].mask).toMatchObject({
      name: 'all but beak',
      operations: [{ kind: 'fill' }, { kind: 'invert' }],
    });
    rerender(tools());
    await userEvent.click(screen.getByRole('button', { name: 'beak later' }));
    expect(plan().finishing!.localChanges.map(({ mask }) => mask.name)).toEqual(['all but beak', 'beak']);
    rerender(tools());
    await userEvent.click(screen.getByRole('button', { name: 'Remove beak' }));
    expect(plan().finishing!.localChanges).toHaveLength(1);
  });

  it('is told in plain words', () => {
    const corrections = withCorrection(emptyPrescription(), 'exposureEv', -0.5).corrections!;
    expect(correctionWords(corrections)).toBe('Exposure −0.50 EV');
    expect(framingWords({ crop: null, quarterTurns: 1, straightenDeg: -1.5, enlarge: 2 })).toBe(
      'straightened by −1.5°, turned by 90°, enlarged 2.00 ×',
    );
    expect(finishingWords({ ...addLocalChange(emptyPrescription(), 'a', [], () => 'a').finishing!, haze: 12 })).toBe(
      'Haze +12',
    );
  });
});
