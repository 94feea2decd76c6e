// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { useState } from 'react';
import { MemoryRouter } from 'react-router';
import { emptyPrescription, unchangedFigures, type MaskOperation, type Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../src/api/queries';
import { moveInGrid, moveInGroup } from '../src/input/arrowKeys';
import { AuditMarks } from '../src/parts/AuditMarks';
import { HoldButtons } from '../src/parts/HoldButtons';
import { isPressable, isTyping } from '../src/input/keys';
import { MaskList } from '../src/parts/MaskList';
import { NumberField } from '../src/parts/NumberField';
import { OperationList } from '../src/mask/OperationList';
import { PileBar } from '../src/shoots/PileBar';
import { ProbeLine } from '../src/workspace/ProbeLine';
import { SettingSlider } from '../src/parts/SettingSlider';
import { StepRule } from '../src/parts/StepRule';
import { WorkNotices } from '../src/workspace/WorkNotices';
import { Aperture } from '../src/trials/Aperture';
import { useFrameStore } from '../src/stores/frameStore';
import { useWallStore } from '../src/stores/wallStore';

vi.stubGlobal('fetch', async () => Response.json({ revision: 1 }));
afterEach(() => {
  cleanup();
  useFrameStore.getState().forgetPage();
});

/** The store as a frame on screen has it. */
function openFrame(change: (old: Prescription) => Prescription = (old) => old): void {
  const prescription = change(emptyPrescription());
  const saved = { revision: 3, prescription };
  useFrameStore.getState().open({ id: 'frame', name: 'frame.jpg', width: 400, height: 300, saved } as FrameDetail);
}
const state = () => useFrameStore.getState();
const plan = () => state().prescription!;

describe('a number field', () => {
  const field = (value: number, onChange = vi.fn()) => {
    render(<NumberField label="Size" value={value} least={0} most={40} step={0.5} digits={1} onChange={onChange} />);
    return { input: screen.getByLabelText<HTMLInputElement>('Size'), onChange };
  };

  it('that is only looked into commits nothing, not even its rounded or bounded text', async () => {
    for (const value of [7.04, 60]) {
      const { input, onChange } = field(value);
      await userEvent.click(input);
      await userEvent.tab();
      expect(onChange).not.toHaveBeenCalled();
      cleanup();
    }
  });

  it('commits what was typed by Enter or by leaving, within bounds; Escape and nonsense bring the value back', async () => {
    const { input, onChange } = field(7);
    await userEvent.clear(input);
    expect(onChange).not.toHaveBeenCalled();
    await userEvent.type(input, '12,5{Enter}');
    expect(onChange).toHaveBeenLastCalledWith(12.5);
    await userEvent.clear(input);
    await userEvent.type(input, '99');
    await userEvent.tab();
    expect(onChange).toHaveBeenLastCalledWith(40);
    await userEvent.clear(input);
    await userEvent.type(input, '3{Escape}');
    await userEvent.tab();
    await userEvent.clear(input);
    await userEvent.type(input, 'many');
    await userEvent.tab();
    expect(onChange).toHaveBeenCalledTimes(2);
    expect(input.value).toBe('7.0');
  });

  it('steps by the arrows', async () => {
    const { input, onChange } = field(7);
    await userEvent.click(input);
    await userEvent.keyboard('{ArrowUp}');
    expect(onChange).toHaveBeenLastCalledWith(7.5);
    await userEvent.keyboard('{ArrowDown}');
    expect(onChange).toHaveBeenLastCalledWith(6.5);
  });
});

describe('a setting', () => {
  it('has a slider that is finer below, a notch at the automatic value and one press back to it', async () => {
    const back = vi.fn();
    const Setting = () => {
      const [value, setValue] = useState(6);
      return (
        <SettingSlider
          name="Blur size"
          unit="px"
          value={value}
          least={0.3}
          most={200}
          step={0.1}
          isFineBelow
          automatic={8}
          isAuto={false}
          onChange={setValue}
          onAutomatic={back}
        />
      );
    };
    render(<Setting />);
    const slider = screen.getByLabelText<HTMLInputElement>('Blur size');
    expect(slider.getAttribute('aria-valuetext')).toBe('6.0 px');
    fireEvent.change(slider, { target: { value: String(Number(slider.value) + 1) } });
    const after = Number(screen.getByLabelText<HTMLInputElement>('Blur size, number').value);
    expect(after).toBeGreaterThan(6);
    expect(after).toBeLessThan(6.3);
    await userEvent.click(screen.getByRole('button', { name: 'back to 8.0' }));
    expect(back).toHaveBeenCalledOnce();
  });

  it('on Automatic says so and why', () => {
    render(
      <SettingSlider
        name="Noise guard"
        value={40}
        least={0}
        most={100}
        step={1}
        automatic={40}
        isAuto
        autoNote="cleaned"
        onChange={vi.fn()}
        onAutomatic={vi.fn()}
      />,
    );
    expect(screen.getByText('automatic, cleaned')).toBeTruthy();
  });

  it('the aperture: straight blades, their turn, and round again', async () => {
    const set = vi.fn();
    const trial = { blades: 6, bladesDeg: 10 } as Parameters<typeof Aperture>[0]['trial'];
    render(<Aperture trial={trial} set={set} />);
    await userEvent.selectOptions(screen.getByLabelText('Aperture'), 'round');
    expect(set).toHaveBeenLastCalledWith({ blades: undefined, bladesDeg: undefined }, '');
    await userEvent.selectOptions(screen.getByLabelText('Aperture'), '9 blades');
    expect(set).toHaveBeenLastCalledWith({ blades: 9, bladesDeg: 10 }, '');
    const turned = screen.getByLabelText<HTMLInputElement>('Blades turned, number');
    await userEvent.clear(turned);
    await userEvent.type(turned, '25{Enter}');
    expect(set).toHaveBeenLastCalledWith({ bladesDeg: 25 }, 'bladesDeg');
  });
});

describe('keys', () => {
  const at = (element: Element, key = ' ') => {
    let seen: KeyboardEvent | null = null;
    const listen = (event: KeyboardEvent) => (seen = event);
    window.addEventListener('keydown', listen);
    fireEvent.keyDown(element, { key });
    window.removeEventListener('keydown', listen);
    return seen!;
  };

  it('know what Space would press and where one types', () => {
    render(
      <div>
        <button type="button">one</button>
        <input type="checkbox" aria-label="two" />
        <input aria-label="three" />
        <input type="range" aria-label="four" />
        <p>five</p>
        <a href="#x">six</a>
      </div>,
    );
    const pressable = (element: Element) => isPressable(at(element));
    expect(pressable(screen.getByText('one'))).toBe(true);
    expect(pressable(screen.getByLabelText('two'))).toBe(true);
    expect(pressable(screen.getByText('six'))).toBe(true);
    expect(pressable(screen.getByText('five'))).toBe(false);
    expect(isTyping(at(screen.getByLabelText('three')))).toBe(true);
    expect(isTyping(at(screen.getByLabelText('two')))).toBe(false);
    expect(isTyping(at(screen.getByLabelText('four')))).toBe(false);
  });

  it('move among tabs and press the one they come to', () => {
    const pressed = vi.fn();
    render(
      <div role="tablist" onKeyDown={moveInGroup}>
        {['a', 'b', 'c'].map((name) => (
          <button key={name} type="button" role="tab" onClick={() => pressed(name)}>
            {name}
          </button>
        ))}
      </div>,
    );
    screen.getByText('c').focus();
    fireEvent.keyDown(screen.getByText('c'), { key: 'ArrowRight' });
    expect(pressed).toHaveBeenLastCalledWith('a');
    expect(document.activeElement).toBe(screen.getByText('a'));
    fireEvent.keyDown(screen.getByText('a'), { key: 'End' });
    expect(pressed).toHaveBeenLastCalledWith('c');
    fireEvent.keyDown(screen.getByText('c'), { key: 'x' });
    expect(pressed).toHaveBeenCalledTimes(2);
  });

  it('move the focus among the cells of a grid, past its heads', () => {
    render(
      <div role="grid" onKeyDown={moveInGrid}>
        <div role="row">
          <div role="columnheader">head</div>
        </div>
        {[0, 1].map((row) => (
          <div role="row" key={row}>
            {[0, 1, 2].map((column) => (
              <div role="gridcell" key={column}>
                <canvas aria-label={`${row}${column}`} tabIndex={-1} />
              </div>
            ))}
          </div>
        ))}
      </div>,
    );
    const focused = () => document.activeElement?.getAttribute('aria-label');
    screen.getByLabelText('00').focus();
    for (const [key, where] of [
      ['ArrowRight', '01'],
      ['ArrowDown', '11'],
      ['ArrowDown', '11'],
      ['ArrowRight', '12'],
      ['ArrowUp', '02'],
    ]) {
      fireEvent.keyDown(document.activeElement!, { key });
      expect(focused()).toBe(where);
    }
    fireEvent.keyDown(document.activeElement!, { key: 'ArrowLeft', altKey: true });
    expect(focused()).toBe('02');
  });

  it('a button held shows the stage, let go or left nothing', () => {
    render(<HoldButtons prescription={emptyPrescription()} />);
    const button = screen.getByRole('button', { name: 'Hold for the original frame' });
    fireEvent.pointerDown(button);
    expect(useWallStore.getState().held).toBe('original');
    fireEvent.pointerUp(button);
    expect(useWallStore.getState().held).toBeNull();
    fireEvent.pointerDown(button);
    fireEvent.pointerLeave(button);
    expect(useWallStore.getState().held).toBeNull();
  });
});

describe('masks', () => {
  it('a cleared opacity is not 0; typed it is kept, undone as one', async () => {
    openFrame();
    const { rerender } = render(<MaskList prescription={plan()} />);
    const opacity = screen.getByLabelText<HTMLInputElement>(/^Opacity of/);
    await userEvent.clear(opacity);
    await userEvent.tab();
    expect(plan().mask.opacityPercent).toBe(100);
    await userEvent.clear(opacity);
    await userEvent.type(opacity, '55{Enter}');
    expect(plan().mask.opacityPercent).toBe(55);
    rerender(<MaskList prescription={plan()} />);
    state().undo();
    expect(plan().mask.opacityPercent).toBe(100);
  });

  it('are added, worked on, ordered, named and removed', async () => {
    openFrame();
    const { rerender } = render(<MaskList prescription={plan()} />);
    const again = () => rerender(<MaskList prescription={plan()} />);
    await userEvent.click(screen.getByRole('button', { name: 'new mask' }));
    again();
    const rows = screen.getAllByRole('listitem');
    expect(rows).toHaveLength(2);
    const names = () => screen.getAllByLabelText<HTMLInputElement>(/^Name of mask/).map(({ value }) => value);
    const before = names();
    await userEvent.click(screen.getByRole('button', { name: /^Down: / }));
    again();
    expect(names()).toEqual([...before].reverse());
    await userEvent.click(screen.getByRole('radio', { name: `Work on ${before[1]}` }));
    again();
    expect(plan().mask.name).toBe(before[1]);
    await userEvent.click(screen.getByRole('button', { name: `Remove mask ${before[0]}` }));
    again();
    expect(names()).toEqual([before[1]]);
    expect(screen.queryByRole('button', { name: /^Remove mask/ })).toBeNull();
  });

  it('their acts are listed by name, the last first; left out, moved, removed, chosen to be adjusted', async () => {
    const acts: MaskOperation[] = [
      { kind: 'fill' },
      { kind: 'stroke', mode: 'erase', sizePx: 40, featherPercent: 0, points: [1, 1] },
      { kind: 'grow', px: -6 },
    ];
    const onChange = vi.fn();
    const onSelect = vi.fn();
    render(<OperationList operations={acts} selected={null} onSelect={onSelect} onChange={onChange} />);
    const rows = screen.getAllByRole('listitem').map((row) => row.textContent);
    expect(rows[0]).toMatch(/shrunk by 6 px/);
    expect(rows[1]).toMatch(/erased, 40 px/);
    expect(rows[2]).toMatch(/filled/);
    await userEvent.click(screen.getByRole('button', { name: 'shrunk by 6 px' }));
    expect(onSelect).toHaveBeenLastCalledWith(2);
    await userEvent.click(screen.getByLabelText('Use 2, erased, 40 px'));
    expect(onChange.mock.lastCall![0][1]).toMatchObject({ kind: 'stroke', isOff: true });
    await userEvent.click(screen.getByRole('button', { name: /^Later: 1, / }));
    expect(onChange.mock.lastCall![0].map(({ kind }: MaskOperation) => kind)).toEqual(['stroke', 'fill', 'grow']);
    await userEvent.click(screen.getByRole('button', { name: /^Remove 3, / }));
    expect(onChange.mock.lastCall![0]).toHaveLength(2);
  });
});

describe('what is said of work', () => {
  it('changes left unsaved are offered, taken or thrown away', async () => {
    openFrame();
    const left = { ...emptyPrescription(), box: { x: 0, y: 0, width: 64, height: 64 } };
    useFrameStore.setState({ work: { ...state().work!, leftBehind: left } });
    render(<WorkNotices />);
    expect(screen.getByRole('alert').textContent).toMatch(/were not saved when the page was left/);
    expect(screen.getByRole('button', { name: 'Bring them back' })).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Throw them away' })).toBeTruthy();
  });

  it('a change in another window leaves the choice; a notice can be closed', async () => {
    openFrame();
    const newer = { revision: 9, prescription: emptyPrescription() };
    useFrameStore.setState({ work: { ...state().work!, newer }, notice: 'one.jpg was changed since.' });
    render(<WorkNotices />);
    expect(screen.getByRole('button', { name: 'Keep mine' })).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(state().notice).toBeNull();
  });

  it('steps say what is done and what is out of date', () => {
    const reading = { measured: { over: { kind: 'mask', key: 'of another mask' } } } as Prescription['reading'];
    const prescription = {
      ...emptyPrescription(),
      reading,
      mask: { ...emptyPrescription().mask, operations: [{ kind: 'fill' } as const] },
    };
    render(
      <MemoryRouter>
        <StepRule prescription={prescription} isRendered />
      </MemoryRouter>,
    );
    expect(screen.getByRole('link', { name: /Measure/ }).textContent).toMatch(/out of date/);
    expect(screen.getByRole('link', { name: /Mask/ }).textContent).toMatch(/done/);
    expect(screen.getByRole('link', { name: /Trials/ }).textContent).not.toMatch(/done/);
    expect(screen.getByRole('link', { name: /Hand over/ }).textContent).toMatch(/done/);
  });

  it('piles that hold something are counted, in their order', () => {
    const { container } = render(
      <PileBar piles={{ soft: 3, unread: 1, grainy: 0, 'good-as-is': 2, 'beyond-recovery': 0 }} />,
    );
    expect(container.textContent).toMatch(/^2 Good as is · 3 Soft · 1 not read yet$/);
  });

  it('the audit of a cell shows the two figures that want attention most, each with its shape’s word', () => {
    const figures = unchangedFigures();
    const halo = { ...figures.halo, verdict: 'damaged' as const, value: 22 };
    const grain = { ...figures.grain, verdict: 'check' as const, value: 1.4 };
    render(<AuditMarks figures={{ ...figures, halo, grain }} />);
    const marks = screen.getAllByRole('img').map((mark) => mark.getAttribute('aria-label'));
    expect(marks).toEqual(['damaged', 'check']);
    cleanup();
    render(<AuditMarks figures={null} />);
    expect(screen.getByText('being audited')).toBeTruthy();
  });
});

describe('probes', () => {
  it('are ordered, sized and removed', async () => {
    const probes = ['a', 'b'].map((id, i) => ({ id, name: id, x: 10 * i, y: 5 }));
    openFrame((old) => ({ ...old, probes }));
    render(<ProbeLine probe={plan().probes[1]} probes={plan().probes} />);
    const line = within(document.body);
    expect(line.getByRole<HTMLButtonElement>('button', { name: 'down' }).disabled).toBe(true);
    await userEvent.click(line.getByRole('button', { name: 'up' }));
    expect(plan().probes.map(({ id }) => id)).toEqual(['b', 'a']);
    await userEvent.selectOptions(line.getByLabelText('Size of probe 2'), '64 px');
    expect(plan().probes.find(({ id }) => id === 'b')).toMatchObject({ size: 64 });
    await userEvent.click(line.getByRole('button', { name: 'remove' }));
    expect(plan().probes.map(({ id }) => id)).toEqual(['a']);
  });
});
