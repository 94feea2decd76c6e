import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { isProposed, MOST_PROBES, type Prescription, type Probe, type ProbeProposal } from '@vitrocept/core';
import { PROPOSAL_NAMES } from '../words';
import { OverviewTools } from './OverviewTools';
import { PlaceLarge } from './PlaceLarge';
import { ProbeLine } from './ProbeLine';
import { ProbeMark } from './ProbeMark';
import { ProbeProposals } from './ProbeProposals';
import type { FrameDetail } from '../api/queries';
import { useLitMap } from '../surfaces/useLitMap';
import { useMaskOutline } from '../surfaces/useMaskOutline';
import { useMapZoom } from './useMapZoom';
import { useProbes } from './useProbes';

const WIDTH = 262;
const MOST_HEIGHT = 200;
/** Long sides of the views that the server draws, and how far the map is enlarged when each is asked for. */
const SIDES = [
  { from: 1, side: 640 },
  { from: 2, side: 2048 },
  { from: 7, side: 6144 },
];

/** Dragged is the map itself, no probe. */
const MAP = 'map';

interface OverviewProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** In Noise and Trials a press on a free place puts a probe there, and probes can be moved. */
  readonly placesProbes: boolean;
}

/** The whole frame as a map that can be enlarged: numbered probes, outline of the mask. */
export function Overview({ frame, prescription, placesProbes }: OverviewProps) {
  const probes = useProbes(frame);
  const whole = Math.min(WIDTH / frame.width, MOST_HEIGHT / frame.height);
  const size = { width: Math.round(frame.width * whole), height: Math.round(frame.height * whole) };
  const map = useRef<SVGSVGElement>(null);
  const { place, zoom, move, fit, times } = useMapZoom(map, size, frame);
  const { scale, left, top } = place;
  /** A probe's id, or the map itself. */
  const dragged = useRef<string | null>(null);
  const outline = useMaskOutline(frame, prescription.mask.operations);
  const [open, setOpen] = useState<readonly ProbeProposal[]>([]);
  const [shown, setShown] = useState<ProbeProposal | null>(null);
  const [pickedId, setPickedId] = useState<string | null>(null);
  const [isLarge, setLarge] = useState(false);
  const picked = prescription.probes.find(({ id }) => id === pickedId) ?? prescription.probes.at(-1) ?? null;
  const isFull = prescription.probes.length >= MOST_PROBES;

  const placeOf = (event: PointerEvent) => {
    const bounds = map.current!.getBoundingClientRect();
    return [(event.clientX - bounds.left - left) / scale, (event.clientY - bounds.top - top) / scale] as const;
  };
  const onKey = (event: KeyboardEvent, probe: Probe) => {
    const step = event.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    if (by) probes.move(probe.id, probe.x + by[0], probe.y + by[1]);
    else if (event.key === 'Delete') probes.remove(probe.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onDown = (event: PointerEvent) => {
    if (event.button === 1 || (!placesProbes && event.button === 0)) dragged.current = MAP;
    else if (placesProbes && !isFull && event.button === 0) {
      dragged.current = probes.place(...placeOf(event));
      setPickedId(dragged.current);
    } else return;
    map.current!.setPointerCapture(event.pointerId);
  };
  const onMove = (event: PointerEvent) => {
    if (dragged.current === MAP) move(event.movementX, event.movementY);
    else if (dragged.current) probes.move(dragged.current, ...placeOf(event));
  };
  /** For those without a pointer: a probe in the middle that has the focus, so that arrow keys move it. */
  const placeInMiddle = () => {
    const id = probes.place(frame.width / 2, frame.height / 2);
    setPickedId(id);
    setTimeout(() => map.current?.querySelector<SVGGElement>(`[data-probe="${id}"]`)?.focus());
  };
  const lit = useLitMap(frame);
  const views = SIDES.filter(({ from }) => times >= from - 0.01);

  return (
    <section className="card-plain overview" aria-label="Overview">
      <svg
        ref={map}
        {...size}
        className={`overview-map ${placesProbes && !isFull ? 'places-probes' : ''}`}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={() => (dragged.current = null)}
        onPointerCancel={() => (dragged.current = null)}
      >
        <g transform={`translate(${left} ${top})`}>
          {views.map(({ side }) => (
            <image
              key={side}
              href={`/api/frames/${frame.id}/view.jpg?side=${side}`}
              width={frame.width * scale}
              height={frame.height * scale}
              preserveAspectRatio="none"
            />
          ))}
          {lit && (
            <image href={lit} width={frame.width * scale} height={frame.height * scale} preserveAspectRatio="none" />
          )}
          {outline && (
            <g transform={`scale(${(frame.width * scale) / outline.width} ${(frame.height * scale) / outline.height})`}>
              <path d={outline.path} className="mask-outline-under" vectorEffect="non-scaling-stroke" />
              <path
                d={outline.path}
                className={isProposed(prescription, 'mask') ? 'mask-outline is-proposed' : 'mask-outline'}
                vectorEffect="non-scaling-stroke"
              />
            </g>
          )}
          {open.map((proposal) => (
            <circle
              key={proposal.kind}
              className={`proposal-mark ${proposal === shown ? 'is-shown' : ''}`}
              cx={(proposal.x + 0.5) * scale}
              cy={(proposal.y + 0.5) * scale}
              r={6}
            />
          ))}
          {prescription.probes.map((probe, i) => (
            <ProbeMark
              key={probe.id}
              probe={probe}
              number={i + 1}
              scale={scale}
              canMove={placesProbes}
              isProposed={isProposed(prescription, 'probes')}
              onKey={(event) => onKey(event, probe)}
              onGrab={(event) => {
                dragged.current = probe.id;
                setPickedId(probe.id);
                map.current!.setPointerCapture(event.pointerId);
              }}
              onFocus={() => setPickedId(probe.id)}
            />
          ))}
        </g>
      </svg>
      <OverviewTools times={times} zoom={zoom} onFit={fit} onLarge={placesProbes ? () => setLarge(true) : null} />
      {isLarge && <PlaceLarge frame={frame} probes={prescription.probes} onClose={() => setLarge(false)} />}
      {placesProbes && (
        <>
          {picked && <ProbeLine key={picked.id} probe={picked} probes={prescription.probes} />}
          <ProbeProposals
            frame={frame}
            prescription={prescription}
            onShow={setShown}
            onOpen={setOpen}
            onAccept={({ kind, x, y }) => setPickedId(probes.place(x, y, PROPOSAL_NAMES[kind]))}
            onPlaceInMiddle={placeInMiddle}
          />
        </>
      )}
    </section>
  );
}
