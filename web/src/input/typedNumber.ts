/** What is typed into a number field: a number within the bounds, or null where nothing sensible was typed. */
export function typedNumber(text: string, least: number, most: number): number | null {
  const typed = Number(text.replace(',', '.'));
  return text.trim() === '' || !Number.isFinite(typed) ? null : Math.min(most, Math.max(least, typed));
}

/**
 * Where a value stands on a slider of `SLIDER_STEPS` places that is finer for small values: squared, so that a blur of
 * 2 px can be set as closely as one of 100 px.
 */
export const SLIDER_STEPS = 1000;

export const placeOnSlider = (value: number, least: number, most: number): number =>
  Math.round(SLIDER_STEPS * Math.sqrt(Math.min(1, Math.max(0, (value - least) / (most - least)))));

/** The value at a place, in whole steps; moving by one place always moves the value by a step at least. */
export function valueOnSlider(place: number, value: number, least: number, most: number, step: number): number {
  const exact = least + (most - least) * (place / SLIDER_STEPS) ** 2;
  const rounded = Math.round(exact / step) * step;
  const from = placeOnSlider(value, least, most);
  const moved =
    Math.abs(rounded - value) < step / 2 && place !== from ? value + Math.sign(place - from) * step : rounded;
  return Math.min(most, Math.max(least, Number(moved.toFixed(6))));
}
