/** Pieces that are small beside the largest go; so do small holes. */
export function tidied(labels: Uint8Array, width: number, height: number): Uint8Array {
  const out = labels.slice();
  for (const label of [1, 0] as const) {
    const pieces = piecesOf(out, label, width, height);
    const largest = Math.max(0, ...pieces.map(({ length }) => length));
    const least = label === 1 ? 0.08 * largest : 0.0015 * width * height;
    for (const piece of pieces) {
      if (piece.length < least) for (const i of piece) out[i] = 1 - label;
    }
  }
  return out;
}

/** Samples that hang together by their sides, piece by piece. */
export function piecesOf(labels: Uint8Array, label: 0 | 1, width: number, height: number): number[][] {
  const seen = new Uint8Array(labels.length);
  const pieces: number[][] = [];
  const visit = (i: number, piece: number[]) => {
    if (seen[i] || labels[i] !== label) return;
    seen[i] = 1;
    piece.push(i);
  };
  for (let start = 0; start < labels.length; start++) {
    if (seen[start] || labels[start] !== label) continue;
    const piece = [start];
    seen[start] = 1;
    for (let k = 0; k < piece.length; k++) {
      const i = piece[k];
      const x = i % width;
      if (x > 0) visit(i - 1, piece);
      if (x < width - 1) visit(i + 1, piece);
      if (i >= width) visit(i - width, piece);
      if (i + width < width * height) visit(i + width, piece);
    }
    pieces.push(piece);
  }
  return pieces;
}

/** Whether a piece touches no side of the frame. */
export function isHole(piece: readonly number[], width: number, height: number): boolean {
  return !piece.some((i) => i < width || i >= width * (height - 1) || i % width === 0 || i % width === width - 1);
}
