import type Konva from 'konva';
import { useCallback, useEffect, useRef, useState } from 'react';
import { drawMask, wholeOf, type MaskOperation } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useBrushStore } from '../stores/brushStore';
import { MaskPainter, type Rect } from './MaskPainter';
import { tileEngine } from '../surfaces/tileEngine';
import { paintVeil } from './veil';

const VEIL_SIDE = 1600;

/** The mask as it lies over the picture, drawn anew when its operations change, and painted on meanwhile. */
export function useMaskVeil(frame: FrameDetail, operations: readonly MaskOperation[]) {
  const view = useBrushStore((state) => state.view);
  const [canvas] = useState(() => document.createElement('canvas'));
  const [isReady, setReady] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  const painter = useRef<MaskPainter | null>(null);
  /** The operations that the painter already shows, so that an own stroke is not drawn again. */
  const painted = useRef<readonly MaskOperation[] | null>(null);
  const layer = useRef<Konva.Layer>(null);

  const repaint = useCallback(
    (area?: Rect | null) => {
      if (!painter.current || area === null) return;
      paintVeil(canvas, painter.current, useBrushStore.getState().view, area);
      layer.current?.batchDraw();
    },
    [canvas],
  );

  useEffect(() => {
    if (painted.current === operations) return;
    // What is painted until the new one is there would be painted on a mask that is no more.
    painter.current = null;
    let isCurrent = true;
    setFailure(null);
    const scale = Math.min(1, VEIL_SIDE / Math.max(frame.width, frame.height));
    const show = (width: number, height: number, values: Float32Array) => {
      if (!isCurrent) return;
      painter.current = new MaskPainter(width, height, scale, values);
      painted.current = operations;
      canvas.width = width;
      canvas.height = height;
      setReady(true);
      repaint();
    };
    const region = wholeOf(frame);
    if (operations.length === 0) {
      // The workers may be busy looking for the subject; an empty mask is there without them.
      const { width, height, data } = drawMask(operations, region, scale);
      show(width, height, data);
    } else {
      void tileEngine
        .drawMask({ operations, region, scale })
        .then(({ width, height, values }) => show(width, height, values))
        .catch((error: Error) => isCurrent && setFailure(error.message));
    }
    return () => {
      isCurrent = false;
    };
  }, [operations, frame, canvas, repaint, attempt]);

  useEffect(() => repaint(), [view, repaint, isReady]);

  const claim = useCallback((own: readonly MaskOperation[]) => {
    painted.current = own;
  }, []);
  const again = useCallback(() => setAttempt((count) => count + 1), []);
  return { canvas, layer, painter, repaint, claim, isReady, failure, again };
}
