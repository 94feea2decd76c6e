/** True while the person types into a field, so that single keys must not act. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target;
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest('[role="dialog"]')) return true;
  if (target instanceof HTMLInputElement)
    return target.type !== 'range' && target.type !== 'radio' && target.type !== 'checkbox';
  return target instanceof HTMLSelectElement || target instanceof HTMLTextAreaElement;
}

/** True where Space or Enter presses what has the focus: then neither is a tool. */
export function isPressable(event: KeyboardEvent): boolean {
  const { target } = event;
  return target instanceof Element && target.closest(PRESSABLE) !== null;
}

const PRESSABLE =
  'button, a[href], summary, input, select, textarea, [role="button"], [role="tab"], [role="switch"], [role="radio"]';

export const KEYS: readonly (readonly [key: string, does: string])[] = [
  ['?', 'show or hide this list'],
  ['Ctrl Z · Ctrl Shift Z', 'undo · redo'],
  [
    '0 · 9 · 8 · 7 (hold)',
    'Noise and Trials: every cell shows the original · as cleaned · with the chosen recovery · finished',
  ],
  ['1 (hold)', 'Trials: only the cell under the pointer shows the original'],
  ['A … L', 'Trials: select a trial by its letter'],
  ['Enter', 'Trials: choose the selected trial; in a number field: commit the number'],
  ['1 … 4', 'a shoot: put what is chosen, or the frame in focus, into a pile by hand'],
  ['← · →', 'a shoot, one after the other: the frame before · the next; Space chooses it, Esc goes back'],
  ['N', 'Trials: add a trial'],
  ['C', 'Noise: compare settings, or back to the one setting'],
  ['S', 'Trials: test strip from the selected trial; Mask: find the subject'],
  ['W', 'Trials: which is better? ← left, → right, ↓ no difference'],
  ['O', 'Trials: close look at the selected trial; Esc: back to the Wall'],
  ['P', 'Trials: likeness of the parts of a face; Mask: paint (add)'],
  ['Delete', 'Trials: remove the selected trial, or the focused probe; a shoot: to the trash'],
  ['+ · −', 'Noise and Trials: larger · smaller magnification; Measure and Mask: zoom'],
  [
    'Arrow keys',
    'move the focused probe, cell, divider, the box of Measure, or a point on the picture; with Shift ten times as far',
  ],
  ['Alt and arrow keys', 'move the picture, or the pixels of a cell; Measure: change the size of the box'],
  ['Enter on the picture', 'Mask: press there, or begin and end a stroke; on a cell: close look'],
  ['X', 'Mask: erase'],
  ['E', 'Mask: brush that follows edges, on or off'],
  ['T · N', 'Mask: point at what is the subject · what is not'],
  ['[ · ]', 'Mask: smaller · larger brush'],
  ['V', 'Mask: next view (tracing paper, contours, plain mask, picture)'],
  ['Space and drag', 'Measure and Mask: move the picture'],
  ['F', 'Measure and Mask: fit the whole frame'],
];
