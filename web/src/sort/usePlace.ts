import { useLayoutEffect, useState, type RefObject } from 'react';

/** How large an element is, followed as it changes, and how far below the top of the page it begins. */
export function usePlace(element: RefObject<HTMLElement | null>): {
  readonly width: number;
  readonly height: number;
  readonly top: number;
} {
  const [place, setPlace] = useState({ width: 0, height: 0, top: 0 });
  useLayoutEffect(() => {
    const look = () => {
      const box = element.current?.getBoundingClientRect();
      if (!box) return;
      const next = { width: box.width, height: box.height, top: box.top + window.scrollY };
      setPlace((known) =>
        known.width === next.width && known.height === next.height && known.top === next.top ? known : next,
      );
    };
    look();
    const observer = new ResizeObserver(look);
    observer.observe(element.current!);
    // What stands above may grow: arrivals, say.
    observer.observe(document.body);
    return () => observer.disconnect();
  }, [element]);
  return place;
}
