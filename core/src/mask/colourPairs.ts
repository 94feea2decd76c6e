/** Every two of three colours once: the upper triangle of a symmetric 3 × 3, row by row. */
export const COLOUR_PAIRS = [
  [0, 0],
  [0, 1],
  [0, 2],
  [1, 1],
  [1, 2],
  [2, 2],
] as const;
