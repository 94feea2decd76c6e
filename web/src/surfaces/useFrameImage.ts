import { useEffect, useState } from 'react';
import type { FrameDetail } from '../api/queries';

/**
 * Long sides, px, of the views that are fetched: at once, soon after (the workers look at the same), and from close up
 * only.
 */
const FIRST_SIDE = 640;
export const USUAL_SIDE = 2048;
const LARGEST_SIDE = 6144;

interface FrameImage {
  readonly picture: HTMLImageElement | null;
  /** A finer one is on its way. */
  readonly isComing: boolean;
  /** Tries once more what failed; null where nothing did. */
  readonly again: (() => void) | null;
}

/** A small picture at once, a larger one as soon as it is there, all of it where one looks from close up. */
export function useFrameImage({ id, width, height }: FrameDetail, isClose: boolean): FrameImage {
  const [images, setImages] = useState<{
    readonly id: string;
    readonly bySide: Readonly<Record<number, HTMLImageElement>>;
  }>();
  const [hasFailed, setFailed] = useState(false);
  const [attempt, setAttempt] = useState(0);
  const wantsAll = isClose && Math.max(width, height) > USUAL_SIDE;
  useEffect(() => {
    let isCurrent = true;
    const load = async (side: number) => {
      const picture = new Image();
      picture.src = `/api/frames/${id}/view.jpg?side=${side}`;
      await picture.decode();
      if (!isCurrent) return;
      setImages((old) => ({ id, bySide: { ...(old?.id === id ? old.bySide : {}), [side]: picture } }));
    };
    setFailed(false);
    const loading = wantsAll ? load(LARGEST_SIDE) : load(FIRST_SIDE).then(() => load(USUAL_SIDE));
    loading.catch(() => isCurrent && setFailed(true));
    return () => {
      isCurrent = false;
    };
  }, [id, wantsAll, attempt]);
  const bySide = images?.id === id ? images.bySide : {};
  const all = bySide[LARGEST_SIDE];
  const picture = all ?? bySide[USUAL_SIDE] ?? bySide[FIRST_SIDE] ?? null;
  const again = hasFailed ? () => setAttempt((count) => count + 1) : null;
  return { picture, isComing: wantsAll ? !all : !picture, again };
}
