import { contours } from 'd3-contour';
import { geoPath } from 'd3-geo';
import { useEffect, useMemo, useState } from 'react';
import { wholeOf, type MaskOperation, type Size } from '@vitrocept/core';
import { tileEngine } from './tileEngine';

const MASK_SIDE = 400;

/** The half-way line of a mask as a path, and the size of the drawing it lies in; null for an empty mask. */
export function useMaskOutline(frame: Size, operations: readonly MaskOperation[]) {
  const [drawn, setDrawn] = useState<{ width: number; height: number; values: Float32Array } | null>(null);
  useEffect(() => {
    if (operations.length === 0) {
      setDrawn(null);
      return;
    }
    let isCurrent = true;
    const scale = MASK_SIDE / Math.max(frame.width, frame.height);
    void tileEngine
      .drawMask({ operations, region: wholeOf(frame), scale })
      .then((result) => isCurrent && setDrawn(result))
      // The mask itself says when it cannot be drawn; the map only goes without its line.
      .catch(() => isCurrent && setDrawn(null));
    return () => {
      isCurrent = false;
    };
  }, [operations, frame]);
  return useMemo(() => {
    if (!drawn) return null;
    const [ring] = contours().size([drawn.width, drawn.height]).thresholds([0.5])(Array.from(drawn.values));
    return { width: drawn.width, height: drawn.height, path: geoPath()(ring) ?? '' };
  }, [drawn]);
}
