import { useMemo } from 'react';
import { ciede2000, labOf, srgbDecode, type Lab } from '@vitrocept/core';
import type { Layered } from '../surfaces/tileKeys';
import { pixelOf } from '../surfaces/useTiles';

interface PixelNumbersProps {
  /** Px of the frame; null: nothing is pointed at. */
  readonly at: { readonly x: number; readonly y: number } | null;
  readonly before: readonly Layered[];
  readonly after: readonly Layered[];
  /** Changes whenever pixels arrive. */
  readonly version: number;
  /** What is said while nothing is pointed at. */
  readonly otherwise: string;
}

/** Codes and colour of one pixel, as taken and as the trial has it. */
export function PixelNumbers({ at, before, after, version, otherwise }: PixelNumbersProps) {
  const text = useMemo(() => {
    const [taken, result] = at ? [pixelOf(before, at.x, at.y), pixelOf(after, at.x, at.y)] : [null, null];
    if (!at || !taken || !result) return null;
    const [p, q] = [taken, result].map(([r, g, b]) =>
      labOf(srgbDecode(r / 255), srgbDecode(g / 255), srgbDecode(b / 255)),
    );
    const said = (codes: readonly number[], { l, a, b }: Lab) =>
      `${codes.join(' ')} · L* ${l.toFixed(1)} a* ${a.toFixed(1)} b* ${b.toFixed(1)}`;
    const difference = ciede2000(p, q).toFixed(1);
    return `${at.x}, ${at.y}   original ${said(taken, p)}   result ${said(result, q)}   ΔE₀₀ ${difference}`;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- equal keys, equal tiles
  }, [at, version, after.map(({ key }) => key).join('|')]);
  return (
    <p className="pixel-numbers figure" aria-live="off">
      {text ?? otherwise}
    </p>
  );
}
