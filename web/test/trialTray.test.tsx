// @vitest-environment jsdom
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { MemoryRouter } from 'react-router';
import { addFace, suggestedStart, type Prescription } from '@vitrocept/core';
import { StripForm } from '../src/trials/StripForm';
import { TrialTray } from '../src/trials/TrialTray';
import { UnsureNotice } from '../src/trials/UnsureNotice';
import { WallEmpty } from '../src/trials/WallEmpty';
import { useFrameStore } from '../src/stores/frameStore';
import { FRAME, openPage, plan } from './page';

const found = vi.hoisted(() => ({
  strongestSafe: vi.fn(),
  subscribe: () => () => undefined,
  secondsForWhole: vi.fn((): number | null => null),
}));
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: found }));

let made = 0;
const newId = () => `t${made++}`;
const withTrials = (old: Prescription) => suggestedStart(old, { x: 40, y: 50 }, newId);

/** The tray as the page shows it: of what the store holds now. */
function Tray({ index = 0, ...acts }: { index?: number; onChoose?(): void; onStrip?(): void; onWhich?(): void }) {
  const prescription = useFrameStore((state) => state.prescription!);
  const nothing = () => undefined;
  return (
    <MemoryRouter>
      <TrialTray
        frame={FRAME}
        trial={prescription.trials[index]}
        index={index}
        prescription={prescription}
        canAdd={prescription.trials.length < 12}
        maskAudit={null}
        {...{ onChoose: nothing, onStrip: nothing, onWhich: nothing, ...acts }}
      />
    </MemoryRouter>
  );
}

describe('the strongest safe amount', () => {
  it('is set by one press as the automatic one, with its reason', async () => {
    found.strongestSafe.mockResolvedValueOnce({
      amount: 72,
      limit: { figure: 'halo', atAmount: 75, place: { x: 41, y: 50 } },
    });
    openPage(withTrials);
    render(<Tray />);
    await userEvent.click(screen.getByRole('button', { name: 'Strongest safe amount' }));
    expect(await screen.findByText(/at 75 %: an edge would start to overshoot at probe 1/)).toBeDefined();
    const { prescription } = useFrameStore.getState();
    expect(prescription!.trials[0].amount).toEqual({ value: 72, auto: true });
  });

  it('says so where it cannot be found, and changes nothing', async () => {
    found.strongestSafe.mockRejectedValueOnce(new Error('The server does not answer.'));
    openPage(withTrials);
    render(<Tray />);
    const before = useFrameStore.getState().prescription;
    await userEvent.click(screen.getByRole('button', { name: 'Strongest safe amount' }));
    expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer.');
    expect(useFrameStore.getState().prescription).toBe(before);
  });
});

describe('the tray of a trial', () => {
  it('shows what its method has: a direction for a movement, a shape for a missed focus, a limit but for texture', async () => {
    openPage(withTrials);
    render(<Tray />);
    const method = screen.getByLabelText('Method of trial A');
    expect(screen.getByLabelText('Aperture')).toBeTruthy();
    expect(screen.queryByLabelText('Direction')).toBeNull();
    await userEvent.selectOptions(method, 'straight-movement');
    expect(screen.getByLabelText('Direction')).toBeTruthy();
    expect(screen.queryByLabelText('Aperture')).toBeNull();
    expect(plan().trials[0]).toMatchObject({ method: 'straight-movement', blurSizePx: { value: 9, auto: true } });
    await userEvent.selectOptions(method, 'fine-texture');
    expect(screen.queryByText('limit halos')).toBeNull();
    expect(within(method).queryByText('Camera shake')).toBeNull();
  });

  it('adds learned texture by itself where a blur is taken back, and leaves it out when told', async () => {
    openPage(withTrials);
    render(<Tray />);
    const learned = () => screen.queryByRole<HTMLInputElement>('checkbox', { name: /Learned texture/ });
    expect(learned()!.checked).toBe(true);
    await userEvent.click(learned()!);
    expect(plan().trials[0].learnedTexture).toBe(false);
    expect(screen.getByText('left out')).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('Method of trial A'), 'edge-contrast');
    expect(learned()).toBeNull();
  });

  it('recovers at half size when asked, says when that is too early, and sends to the likeness where a face is', async () => {
    openPage(withTrials);
    render(<Tray />);
    const badly = () => screen.queryByRole<HTMLInputElement>('checkbox', { name: /Badly soft/ });
    expect(badly()!.checked).toBe(false);
    await userEvent.click(badly()!);
    expect(plan().trials[0].badlySoft).toBe(true);
    expect(screen.getByText(/under 35 px of blur full size mostly shows more/)).toBeTruthy();
    expect(screen.queryByText(/all of it/)).toBeNull();
    found.secondsForWhole.mockReturnValue(42.4);
    act(() => useFrameStore.getState().change((old) => addFace(old, 'a face')));
    expect(screen.getByText(/all of it about 42 s/)).toBeTruthy();
    expect(screen.getByText(/look at its likeness/)).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('Method of trial A'), 'edge-contrast');
    expect(badly()).toBeNull();
    expect(plan().trials[0].badlySoft).toBeUndefined();
  });

  it('a change of the method forgets the shape of the other', async () => {
    openPage(withTrials);
    render(<Tray />);
    await userEvent.selectOptions(screen.getByLabelText('Aperture'), '7');
    expect(plan().trials[0].blades).toBe(7);
    expect(screen.getByLabelText('Blades turned')).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('Method of trial A'), 'ordinary-softness');
    expect(plan().trials[0].blades).toBeUndefined();
  });

  it('a round circle can be squeezed, then turned; blades take the squeeze away', async () => {
    openPage(withTrials);
    render(<Tray />);
    expect(screen.queryByLabelText('Long side')).toBeNull();
    fireEvent.change(screen.getByLabelText('Squeezed'), { target: { value: '30' } });
    expect(plan().trials[0].squeezePercent).toBe(30);
    fireEvent.change(screen.getByLabelText('Long side'), { target: { value: '45' } });
    expect(plan().trials[0].squeezeDeg).toBe(45);
    await userEvent.selectOptions(screen.getByLabelText('Aperture'), '6');
    expect(plan().trials[0]).toMatchObject({ blades: 6, squeezePercent: undefined });
  });

  it('a slider sets by hand, its mark brings Automatic back', async () => {
    openPage(withTrials);
    render(<Tray />);
    fireEvent.change(screen.getByLabelText('Noise guard'), { target: { value: '71' } });
    expect(plan().trials[0].noiseGuard).toEqual({ value: 71, auto: false });
    await userEvent.click(screen.getByRole('button', { name: 'all Automatic' }));
    expect(plan().trials[0].noiseGuard).toEqual({ value: 50, auto: true });
  });

  it('the halo limit goes off and comes back at its automatic value', async () => {
    openPage(withTrials);
    render(<Tray />);
    const limit = screen.getByLabelText('limit halos');
    await userEvent.click(limit);
    expect(plan().trials[0].haloLimitPercent).toBeNull();
    await userEvent.click(limit);
    expect(plan().trials[0].haloLimitPercent).toBe(150);
  });

  it('trials are added, copied, moved, named and removed', async () => {
    openPage(withTrials);
    render(<Tray />);
    await userEvent.click(screen.getByRole('button', { name: 'Duplicate' }));
    await userEvent.click(screen.getByRole('button', { name: /^Add/ }));
    expect(plan().trials.map(({ method }) => method)).toEqual([
      'missed-focus',
      'missed-focus',
      'straight-movement',
      'edge-contrast',
      'missed-focus',
    ]);
    expect(new Set(plan().trials.map(({ id }) => id)).size).toBe(5);
    const first = plan().trials[0].id;
    await userEvent.click(screen.getByRole('button', { name: 'Move trial A to the right' }));
    expect(plan().trials[1].id).toBe(first);
    await userEvent.type(screen.getByLabelText('Name of trial A'), 'eye');
    expect(plan().trials[0].name).toBe('eye');
    await userEvent.click(screen.getByRole('button', { name: 'Remove' }));
    expect(plan().trials).toHaveLength(4);
    await userEvent.click(screen.getByRole('button', { name: 'All methods' }));
    expect(plan().trials.map(({ method }) => method)).toEqual(
      expect.arrayContaining(['ordinary-softness', 'fine-texture']),
    );
  });

  it('says which is chosen; what is changed after can be chosen again', async () => {
    openPage(withTrials);
    const onChoose = vi.fn();
    const { rerender } = render(<Tray onChoose={onChoose} />);
    await userEvent.click(screen.getByRole('button', { name: /Choose A/ }));
    expect(onChoose).toHaveBeenCalledOnce();
    const { id: trialId, name: _, ...recovery } = plan().trials[0];
    useFrameStore.getState().change((old) => ({ ...old, recovery: { ...recovery, trialId } }));
    rerender(<Tray onChoose={onChoose} />);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /A is chosen/ }).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Amount'), { target: { value: '33' } });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /Choose A/ }).disabled).toBe(false);
  });
});

describe('a test strip', () => {
  const asked = () => {
    openPage(withTrials);
    const onPlan = vi.fn();
    const onHide = vi.fn();
    render(<StripForm trial={plan().trials[0]} letter="A" room={9} onPlan={onPlan} onHide={onHide} />);
    return { onPlan };
  };
  const type = async (label: RegExp, text: string) => {
    const field = screen.getByLabelText(label);
    await userEvent.clear(field);
    await userEvent.type(field, text);
  };

  it('is planned from what was typed', async () => {
    const { onPlan } = asked();
    await type(/^From/, '10');
    await type(/^To/, '90');
    await userEvent.click(screen.getByRole('button', { name: 'Make the strip' }));
    await vi.waitFor(() => expect(onPlan).toHaveBeenCalledOnce());
    expect(onPlan.mock.calls[0][0]).toMatchObject({ key: 'amount', from: 10, to: 90 });
  });

  it('is refused with a sentence where it cannot be', async () => {
    const { onPlan } = asked();
    await type(/^From/, '50');
    await type(/^To/, '50');
    await userEvent.click(screen.getByRole('button', { name: 'Make the strip' }));
    expect(await screen.findByText('From and to must differ.')).toBeTruthy();
    await type(/^To/, '900');
    expect(await screen.findByText('At most 100.')).toBeTruthy();
    expect(onPlan).not.toHaveBeenCalled();
  });
});

describe('where there is nothing on the Wall', () => {
  it('a start is offered that puts a probe and three trials there', async () => {
    openPage();
    render(<WallEmpty frame={FRAME} prescription={plan()} />);
    expect(screen.getByText('Place a probe first')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Suggested trials' }));
    expect(plan().probes).toMatchObject([{ x: 200, y: 150 }]);
    expect(plan().trials.map(({ method }) => method)).toEqual(['missed-focus', 'straight-movement', 'edge-contrast']);
  });

  it('while the frame is looked at it says that trials come by themselves, and a start is offered all the same', async () => {
    openPage();
    render(<WallEmpty frame={FRAME} prescription={plan()} isComing />);
    expect(screen.getByRole('status').textContent).toMatch(/by themselves/);
    expect(screen.queryByText('Place a probe first')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Suggested trials' }));
    expect(plan().trials).toHaveLength(3);
  });

  it('an unsure Reading offers both of its causes', async () => {
    openPage((old) => {
      const measured = { ...old.reading!.measured, confidence: 0.5 };
      return { ...old, reading: { ...old.reading!, measured } };
    });
    render(
      <MemoryRouter>
        <UnsureNotice frame={FRAME} prescription={plan()} />
      </MemoryRouter>,
    );
    await userEvent.click(screen.getByRole('button', { name: /both/i }));
    expect(plan().trials.map(({ method }) => method)).toEqual(['missed-focus', 'straight-movement']);
    expect(plan().probes).toHaveLength(1);
  });
});
