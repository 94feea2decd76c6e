export const DCT_SIDE = 8;

/** cos basis of the orthonormal DCT-II, frequency by place. */
const BASIS = Float64Array.from({ length: DCT_SIDE * DCT_SIDE }, (_, i) => {
  const k = Math.floor(i / DCT_SIDE);
  const n = i % DCT_SIDE;
  return (k === 0 ? Math.sqrt(1 / DCT_SIDE) : Math.sqrt(2 / DCT_SIDE)) * Math.cos((Math.PI * (n + 0.5) * k) / DCT_SIDE);
});

/** Two-dimensional orthonormal DCT-II of a block of 8 × 8, in place; `spare` is as large. */
export function dct8(block: Float64Array, spare: Float64Array): void {
  for (let row = 0; row < DCT_SIDE; row++) {
    for (let k = 0; k < DCT_SIDE; k++) {
      let value = 0;
      for (let n = 0; n < DCT_SIDE; n++) value += BASIS[k * DCT_SIDE + n] * block[row * DCT_SIDE + n];
      spare[k * DCT_SIDE + row] = value;
    }
  }
  for (let column = 0; column < DCT_SIDE; column++) {
    for (let k = 0; k < DCT_SIDE; k++) {
      let value = 0;
      for (let n = 0; n < DCT_SIDE; n++) value += BASIS[k * DCT_SIDE + n] * spare[column * DCT_SIDE + n];
      block[k * DCT_SIDE + column] = value;
    }
  }
}

/** Undoes `dct8`. */
export function inverseDct8(block: Float64Array, spare: Float64Array): void {
  for (let row = 0; row < DCT_SIDE; row++) {
    for (let n = 0; n < DCT_SIDE; n++) {
      let value = 0;
      for (let k = 0; k < DCT_SIDE; k++) value += BASIS[k * DCT_SIDE + n] * block[row * DCT_SIDE + k];
      spare[n * DCT_SIDE + row] = value;
    }
  }
  for (let column = 0; column < DCT_SIDE; column++) {
    for (let n = 0; n < DCT_SIDE; n++) {
      let value = 0;
      for (let k = 0; k < DCT_SIDE; k++) value += BASIS[k * DCT_SIDE + n] * spare[column * DCT_SIDE + k];
      block[n * DCT_SIDE + column] = value;
    }
  }
}
