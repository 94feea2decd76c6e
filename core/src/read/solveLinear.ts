/** Gaussian elimination with row exchange; both arguments are spent. */
export function solveLinear(matrix: Float64Array, right: Float64Array): Float64Array {
  const n = right.length;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let row = column + 1; row < n; row++) {
      if (Math.abs(matrix[row * n + column]) > Math.abs(matrix[pivot * n + column])) pivot = row;
    }
    if (pivot !== column) {
      for (let k = 0; k < n; k++) {
        [matrix[column * n + k], matrix[pivot * n + k]] = [matrix[pivot * n + k], matrix[column * n + k]];
      }
      [right[column], right[pivot]] = [right[pivot], right[column]];
    }
    for (let row = column + 1; row < n; row++) {
      const factor = matrix[row * n + column] / matrix[column * n + column];
      for (let k = column; k < n; k++) matrix[row * n + k] -= factor * matrix[column * n + k];
      right[row] -= factor * right[column];
    }
  }
  for (let row = n - 1; row >= 0; row--) {
    for (let k = row + 1; k < n; k++) right[row] -= matrix[row * n + k] * right[k];
    right[row] /= matrix[row * n + row];
  }
  return right;
}
