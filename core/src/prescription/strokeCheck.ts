import type { MaskOperation } from '../mask/maskOperation';

/**
 * Strokes are looked at by hand: a painted mask holds tens of thousands of numbers, and a schema for each of them takes
 * seconds, during which nobody else is served.
 */
const FIELDS = new Set(['kind', 'isOff', 'mode', 'sizePx', 'featherPercent', 'opacityPercent', 'points', 'pressures']);
const MOST_POINTS = 20_000;
const FARTHEST_PX = 1e5;

const isWithin = (value: unknown, least: number, most: number): value is number =>
  typeof value === 'number' && value >= least && value <= most;

function areWithin(values: unknown, least: number, most: number): values is number[] {
  if (!Array.isArray(values)) return false;
  for (let i = 0; i < values.length; i++) if (!isWithin(values[i], least, most)) return false;
  return true;
}

/** What is wrong with a stroke; null where nothing is. */
export function strokeFault(value: unknown): string | null {
  if (typeof value !== 'object' || value === null) return 'it must be an object';
  const stroke = value as Record<string, unknown>;
  const foreign = Object.keys(stroke).find((key) => !FIELDS.has(key));
  if (foreign) return `it has an unknown field ${foreign}`;
  const { isOff, mode, sizePx, featherPercent, opacityPercent, points, pressures } = stroke;
  if (isOff !== undefined && typeof isOff !== 'boolean') return 'isOff must be true or false';
  if (mode !== 'add' && mode !== 'erase') return 'mode must be add or erase';
  if (!isWithin(sizePx, 0.5, 20_000)) return 'sizePx must be a number from 0.5 to 20000';
  if (!isWithin(featherPercent, 0, 100)) return 'featherPercent must be a number from 0 to 100';
  if (opacityPercent !== undefined && !isWithin(opacityPercent, 0, 100))
    return 'opacityPercent must be a number from 0 to 100';
  if (!areWithin(points, -FARTHEST_PX, FARTHEST_PX)) return `points must hold numbers up to ${FARTHEST_PX}`;
  if (points.length < 2 || points.length > 2 * MOST_POINTS || points.length % 2 !== 0)
    return `points must hold x and y in pairs, at most ${MOST_POINTS} of them`;
  if (pressures === undefined) return null;
  if (!areWithin(pressures, 0, 1)) return 'pressures must hold numbers from 0 to 1';
  return pressures.length * 2 === points.length ? null : 'pressures must hold one pressure a point';
}

/** Of all strokes of a mask together. */
const MOST_POINTS_OF_MASK = 250_000;
/** Of all acts of growing and softening together: farther would reach over any frame. */
const MOST_REACH_PX = 2000;

/** What is too much in a mask as a whole, as a sentence; null where nothing is. */
export function maskExcess(operations: readonly MaskOperation[]): string | null {
  let points = 0;
  let reachPx = 0;
  for (const operation of operations) {
    if (operation.kind === 'stroke') points += operation.points.length / 2;
    else if (operation.kind === 'grow' || operation.kind === 'feather') reachPx += Math.abs(operation.px);
  }
  if (points > MOST_POINTS_OF_MASK)
    return `the strokes of a mask may have ${MOST_POINTS_OF_MASK} points together, these have ${points}`;
  if (reachPx > MOST_REACH_PX)
    return `growing and softening may reach ${MOST_REACH_PX} px together, these acts reach ${reachPx} px`;
  return null;
}
