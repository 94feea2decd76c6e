import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { isProposed, MOST_PROBES, type Prescription, type Probe, type ProbeProposal } from '@vitrocept/core';
import { PROPOSAL_NAMES } from '../words';
import { ProbeLine } from './ProbeLine';
import { ProbeMark } from './ProbeMark';
import { ProbeProposals } from './ProbeProposals';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { useMaskOutline } from '../surfaces/useMaskOutline';
import { newId } from '../input/newId';

const WIDTH = 262;
const MOST_HEIGHT = 200;

interface OverviewProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** In Noise and Trials a press on a free place puts a probe there, and probes can be moved. */
  readonly placesProbes: boolean;
}

/** The whole frame as a map: numbered probes, outline of the mask. */
export function Overview({ frame, prescription, placesProbes }: OverviewProps) {
  const change = useFrameStore((state) => state.change);
  const scale = Math.min(WIDTH / frame.width, MOST_HEIGHT / frame.height);
  const width = Math.round(frame.width * scale);
  const height = Math.round(frame.height * scale);
  const map = useRef<SVGSVGElement>(null);
  const dragged = useRef<string | null>(null);
  const outline = useMaskOutline(frame, prescription.mask.operations);
  const [open, setOpen] = useState<readonly ProbeProposal[]>([]);
  const [shown, setShown] = useState<ProbeProposal | null>(null);
  const [pickedId, setPickedId] = useState<string | null>(null);
  const picked = prescription.probes.find(({ id }) => id === pickedId) ?? prescription.probes.at(-1) ?? null;
  const isFull = prescription.probes.length >= MOST_PROBES;

  const placeOf = (event: PointerEvent) => {
    const bounds = map.current!.getBoundingClientRect();
    return within(frame, (event.clientX - bounds.left) / scale, (event.clientY - bounds.top) / scale);
  };
  const moveProbe = (id: string, x: number, y: number) =>
    change(
      (old) => ({
        ...old,
        probes: old.probes.map((probe) => (probe.id === id ? { ...probe, ...within(frame, x, y) } : probe)),
      }),
      `probe ${id}`,
    );
  const onKey = (event: KeyboardEvent, probe: Probe) => {
    const step = event.shiftKey ? 10 : 1;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    if (by) moveProbe(probe.id, probe.x + by[0], probe.y + by[1]);
    else if (event.key === 'Delete')
      change((old) => ({ ...old, probes: old.probes.filter(({ id }) => id !== probe.id) }));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const place = (part: Omit<Probe, 'id'>) => {
    const probe = { id: newId(), ...part };
    change((old) => ({ ...old, probes: [...old.probes, probe] }), `probe ${probe.id}`);
    setPickedId(probe.id);
    return probe.id;
  };
  /** For those without a pointer: a probe in the middle that has the focus, so that arrow keys move it. */
  const placeInMiddle = () => {
    const id = place({ name: '', ...within(frame, frame.width / 2, frame.height / 2) });
    setTimeout(() => map.current?.querySelector<SVGGElement>(`[data-probe="${id}"]`)?.focus());
  };

  return (
    <section className="card-plain overview" aria-label="Overview">
      <svg
        ref={map}
        width={width}
        height={height}
        className={placesProbes && !isFull ? 'places-probes' : ''}
        onPointerDown={(event) => {
          if (!placesProbes || isFull || event.button !== 0) return;
          dragged.current = place({ name: '', ...placeOf(event) });
          map.current!.setPointerCapture(event.pointerId);
        }}
        onPointerMove={(event) => {
          if (!dragged.current) return;
          const { x, y } = placeOf(event);
          moveProbe(dragged.current, x, y);
        }}
        onPointerUp={() => (dragged.current = null)}
        onPointerCancel={() => (dragged.current = null)}
      >
        <image
          href={`/api/frames/${frame.id}/view.jpg?side=640`}
          width={width}
          height={height}
          preserveAspectRatio="none"
        />
        {outline && (
          <g transform={`scale(${width / outline.width} ${height / outline.height})`}>
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
      </svg>
      {placesProbes && (
        <>
          {picked && <ProbeLine key={picked.id} probe={picked} probes={prescription.probes} />}
          <ProbeProposals
            frame={frame}
            prescription={prescription}
            onShow={setShown}
            onOpen={setOpen}
            onAccept={(proposal) =>
              place({ name: PROPOSAL_NAMES[proposal.kind], ...within(frame, proposal.x, proposal.y) })
            }
            onPlaceInMiddle={placeInMiddle}
          />
        </>
      )}
    </section>
  );
}

function within({ width, height }: FrameDetail, x: number, y: number) {
  return {
    x: Math.min(width - 1, Math.max(0, Math.round(x))),
    y: Math.min(height - 1, Math.max(0, Math.round(y))),
  };
}
