import { useEffect, useState, type RefObject } from 'react';
import type { Size } from '@vitrocept/core';

/** A pixel of 45 megapixels is then half a pixel of the map. */
const MOST_ZOOM = 16;

export interface MapPlace {
  /** Px of the map per px of the frame. */
  readonly scale: number;
  /** Where the frame's corner lies, px of the map. */
  readonly left: number;
  readonly top: number;
}

/** How a frame lies on its map, enlarged about a point of it: that point stays where it is. */
export function zoomedAbout(map: Size, frame: Size, old: MapPlace, factor: number, atX: number, atY: number): MapPlace {
  const least = map.width / frame.width;
  const scale = Math.min(MOST_ZOOM * least, Math.max(least, old.scale * factor));
  return heldIn(map, frame, {
    scale,
    left: atX - ((atX - old.left) * scale) / old.scale,
    top: atY - ((atY - old.top) * scale) / old.scale,
  });
}

/** No part of the map is left empty. */
function heldIn(map: Size, frame: Size, { scale, left, top }: MapPlace): MapPlace {
  const within = (value: number, room: number, full: number) => Math.min(0, Math.max(room - full * scale, value));
  return { scale, left: within(left, map.width, frame.width), top: within(top, map.height, frame.height) };
}

/** The Overview's zoom: by wheel about the pointer, by buttons about the middle. */
export function useMapZoom(element: RefObject<SVGSVGElement | null>, map: Size, frame: Size) {
  const fitted = { scale: map.width / frame.width, left: 0, top: 0 };
  const [zoomed, setZoomed] = useState<MapPlace | null>(null);
  const place = zoomed ?? fitted;
  const zoom = (factor: number, atX = map.width / 2, atY = map.height / 2) =>
    setZoomed((old) => {
      const next = zoomedAbout(map, frame, old ?? fitted, factor, atX, atY);
      return next.scale <= fitted.scale * 1.001 ? null : next;
    });
  const move = (byX: number, byY: number) =>
    setZoomed((old) => old && heldIn(map, frame, { ...old, left: old.left + byX, top: old.top + byY }));

  useEffect(() => {
    const svg = element.current;
    if (!svg) return;
    // React listens to wheels passively: the page would scroll under it.
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const bounds = svg.getBoundingClientRect();
      zoom(event.deltaY < 0 ? 1.3 : 1 / 1.3, event.clientX - bounds.left, event.clientY - bounds.top);
    };
    svg.addEventListener('wheel', onWheel, { passive: false });
    return () => svg.removeEventListener('wheel', onWheel);
  });

  return { place, zoom, move, fit: () => setZoomed(null), times: place.scale / fitted.scale };
}
