/**
 * Solves the equations of a symmetric positive definite matrix, of which only the lower triangle is read; both
 * arguments are spent. Cholesky: Golub & Van Loan, Matrix Computations, 4.2 (from memory). What a row begins with zeros
 * is passed over, so that unknowns which hardly meet each other had better come first.
 */
export function solveSymmetric(matrix: Float64Array, right: Float64Array): Float64Array {
  const n = right.length;
  const firsts = new Int32Array(n);
  for (let row = 0; row < n; row++) {
    const own = row * n;
    let first = 0;
    while (first < row && matrix[own + first] === 0) first++;
    firsts[row] = first;
    for (let column = first; column <= row; column++) {
      const other = column * n;
      let sum = matrix[own + column];
      for (let k = Math.max(first, firsts[column]); k < column; k++) sum -= matrix[own + k] * matrix[other + k];
      matrix[own + column] = column < row ? sum / matrix[other + column] : Math.sqrt(Math.max(sum, Number.MIN_VALUE));
    }
  }
  for (let row = 0; row < n; row++) {
    for (let k = 0; k < row; k++) right[row] -= matrix[row * n + k] * right[k];
    right[row] /= matrix[row * n + row];
  }
  for (let row = n - 1; row >= 0; row--) {
    for (let k = row + 1; k < n; k++) right[row] -= matrix[k * n + row] * right[k];
    right[row] /= matrix[row * n + row];
  }
  return right;
}
