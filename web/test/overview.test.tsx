// @vitest-environment jsdom
import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ProbeProposal } from '@vitrocept/core';
import { Overview } from '../src/workspace/Overview';
import { useFrameStore } from '../src/stores/frameStore';
import { FRAME, openPage, plan } from './page';

/** There are no workers: what they would propose, or that they cannot. */
const { engine } = vi.hoisted(() => ({
  engine: { proposeProbes: vi.fn(), drawMask: vi.fn(), subscribe: () => () => undefined, getVersion: () => 0 },
}));
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: engine }));

const PROPOSALS: ProbeProposal[] = [
  { kind: 'perhaps-an-eye', x: 120, y: 90 },
  { kind: 'finest-texture', x: 300, y: 200 },
];

function Shown({ places = true }: { places?: boolean }) {
  const prescription = useFrameStore((state) => state.prescription!);
  return <Overview frame={FRAME} prescription={prescription} placesProbes={places} />;
}

beforeEach(() => {
  engine.proposeProbes.mockReset();
  openPage();
  // jsdom draws nothing, so nothing has a place and pointers are not captured.
  SVGElement.prototype.setPointerCapture = () => undefined;
});

describe('the overview', () => {
  it('a press places a probe, dragging moves it, until it is let go', () => {
    const { container } = render(<Shown />);
    const map = container.querySelector('svg')!;
    // 262 px wide for a frame of 400.
    const scale = 262 / 400;
    fireEvent.pointerDown(map, { button: 0, clientX: 100 * scale, clientY: 60 * scale });
    expect(plan().probes).toMatchObject([{ x: 100, y: 60, name: '' }]);
    fireEvent.pointerMove(map, { clientX: 150 * scale, clientY: 60 * scale });
    expect(plan().probes[0].x).toBe(150);
    fireEvent.pointerUp(map);
    fireEvent.pointerMove(map, { clientX: 10, clientY: 10 });
    expect(plan().probes[0].x).toBe(150);
    // Placing and dragging are one step back.
    useFrameStore.getState().undo();
    expect(plan().probes).toEqual([]);
  });

  it('enlarged about the pointer, a press still lands where it points', () => {
    const { container } = render(<Shown />);
    const map = container.querySelector('svg')!;
    const scale = 262 / 400;
    const at = { clientX: 100 * scale, clientY: 60 * scale };
    for (let i = 0; i < 6; i++) fireEvent.wheel(map, { deltaY: -1, ...at });
    fireEvent.pointerDown(map, { button: 0, ...at });
    expect(plan().probes).toMatchObject([{ x: 100, y: 60 }]);
    fireEvent.pointerMove(map, { ...at, clientX: at.clientX + 10 * scale });
    // Ten pixels of the whole map are two of one enlarged nearly five times.
    expect(plan().probes[0].x).toBe(100 + Math.round(10 / 1.3 ** 6));
    fireEvent.pointerUp(map);
    fireEvent.click(screen.getByRole('button', { name: 'Whole frame in the Overview' }));
    fireEvent.pointerDown(map, { button: 0, clientX: 300 * scale, clientY: 60 * scale });
    expect(plan().probes[1].x).toBe(300);
  });

  it('another button, or a step that places none, leaves it alone', () => {
    const { container, rerender } = render(<Shown />);
    fireEvent.pointerDown(container.querySelector('svg')!, { button: 2, clientX: 10, clientY: 10 });
    rerender(<Shown places={false} />);
    fireEvent.pointerDown(container.querySelector('svg')!, { button: 0, clientX: 10, clientY: 10 });
    expect(plan().probes).toEqual([]);
    expect(screen.queryByText('One in the middle')).toBeNull();
  });

  it('a probe is placed, moved and removed by keys alone', async () => {
    render(<Shown />);
    await userEvent.click(screen.getByRole('button', { name: 'One in the middle' }));
    const mark = await screen.findByRole('button', { name: /^Probe 1/ });
    await vi.waitFor(() => expect(document.activeElement).toBe(mark));
    expect(plan().probes).toMatchObject([{ x: 200, y: 150 }]);
    await userEvent.keyboard('{ArrowRight}{Shift>}{ArrowUp}{/Shift}');
    expect(plan().probes).toMatchObject([{ x: 201, y: 140 }]);
    await userEvent.keyboard('{Delete}');
    expect(plan().probes).toEqual([]);
  });

  it('never leaves the frame', async () => {
    render(<Shown />);
    await userEvent.click(screen.getByRole('button', { name: 'One in the middle' }));
    const mark = await screen.findByRole('button', { name: /^Probe 1/ });
    for (let i = 0; i < 30; i++) fireEvent.keyDown(mark, { key: 'ArrowLeft', shiftKey: true });
    expect(plan().probes[0].x).toBe(0);
    for (let i = 0; i < 60; i++) fireEvent.keyDown(mark, { key: 'ArrowRight', shiftKey: true });
    expect(plan().probes[0].x).toBe(399);
  });

  it('proposals are asked for, taken one by one under their own names', async () => {
    engine.proposeProbes.mockResolvedValue(PROPOSALS);
    const { container } = render(<Shown />);
    await userEvent.click(screen.getByRole('button', { name: 'Propose some' }));
    await userEvent.click(await screen.findByRole('button', { name: '+ perhaps an eye' }));
    expect(plan().probes).toMatchObject([{ x: 120, y: 90, name: 'perhaps an eye' }]);
    expect(screen.queryByRole('button', { name: '+ perhaps an eye' })).toBeNull();
    expect(container.querySelectorAll('.proposal-mark')).toHaveLength(1);
    await userEvent.click(screen.getByRole('button', { name: '+ finest texture' }));
    expect(screen.getByText('nothing more to propose')).toBeTruthy();
  });

  it('a search that fails says why, and can be asked for again', async () => {
    engine.proposeProbes.mockRejectedValueOnce(new Error('The computing thread ended.'));
    render(<Shown />);
    await userEvent.click(screen.getByRole('button', { name: 'Propose some' }));
    expect((await screen.findByRole('alert')).textContent).toMatch(/computing thread ended/);
    engine.proposeProbes.mockResolvedValue(PROPOSALS);
    await userEvent.click(screen.getByRole('button', { name: 'Propose some' }));
    expect(await screen.findByRole('button', { name: '+ finest texture' })).toBeTruthy();
  });

  it('takes eight probes and no more', () => {
    const probes = Array.from({ length: 8 }, (_, i) => ({ id: `p${i}`, name: '', x: 10 * i, y: 5 }));
    useFrameStore.getState().change((old) => ({ ...old, probes }));
    const { container } = render(<Shown />);
    fireEvent.pointerDown(container.querySelector('svg')!, { button: 0, clientX: 100, clientY: 60 });
    expect(plan().probes).toHaveLength(8);
    expect(screen.getByText('8 probes are the most.')).toBeTruthy();
  });
});
