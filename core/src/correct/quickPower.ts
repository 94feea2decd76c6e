/** Steps of a table over one doubling; between them a straight line is right to a few parts in ten million. */
const STEPS = 2048;
const MANTISSA_BITS = 23;
const SHIFT = MANTISSA_BITS - 11;
const REST = 1 << SHIFT;

const logTable = Float64Array.from({ length: STEPS + 1 }, (_, i) => Math.log2(1 + i / STEPS));
const powerTable = Float64Array.from({ length: STEPS + 1 }, (_, i) => 2 ** (i / STEPS));
const wholePowers = Float64Array.from({ length: 256 }, (_, i) => 2 ** (i - 128));

const floats = new Float32Array(1);
const bits = new Int32Array(floats.buffer);

/**
 * log₂ of a positive number that single precision holds, right to 1e−6: from its exponent and a table of its mantissa. Three
 * times as fast as Math.log2, which is what lifting shadows would spend most of its time in.
 */
export function quickLog2(value: number): number {
  floats[0] = value;
  const whole = bits[0];
  const exponent = (whole >> MANTISSA_BITS) - 127;
  const mantissa = whole & 0x7fffff;
  const at = mantissa >> SHIFT;
  const share = (mantissa & (REST - 1)) / REST;
  return exponent + logTable[at] + share * (logTable[at + 1] - logTable[at]);
}

/** 2 to the power of −127..126, right to one part in a million. */
export function quickPowerOf2(exponent: number): number {
  const whole = Math.floor(exponent);
  const place = (exponent - whole) * STEPS;
  const at = Math.floor(place);
  return wholePowers[whole + 128] * (powerTable[at] + (place - at) * (powerTable[at + 1] - powerTable[at]));
}
