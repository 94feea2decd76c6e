// Codes of linear light. The twin is `CodeFinder` in core/src/picture/toneCurve.ts, and the bits are the same.

const CODE_MAX: i32 = 65535;
const PLACES: f32 = 4096;

// @ts-ignore: decorator
@inline function lightOf(table: usize, code: i32): f32 {
  return load<f32>(table + (<usize>code << 2));
}

// @ts-ignore: decorator
@inline function codeOf(light: f32, table: usize, guess: usize): i32 {
  if (!(light > 0)) return 0;
  if (light >= 1) return CODE_MAX;
  const place = sqrt<f32>(light) * PLACES;
  const at = <i32>place;
  const low = lightOf(guess, at);
  let code = <i32>(low + (place - <f32>at) * (lightOf(guess, at + 1) - low) + <f32>0.5);
  while (code < CODE_MAX && lightOf(table, code + 1) - light < light - lightOf(table, code)) code++;
  while (
    code > 0 && lightOf(table, code) > light && lightOf(table, code) - light >= light - lightOf(table, code - 1)
  ) code--;
  return code;
}

/** Of a channel, every `stride` bytes. */
export function codesOf(from: usize, count: i32, table: usize, guess: usize, to: usize, stride: usize): void {
  for (let i = 0; i < count; i++, from += 4, to += stride) store<u16>(to, codeOf(load<f32>(from), table, guess));
}
