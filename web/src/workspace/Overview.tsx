import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { MOST_PROBES, regionOfProbe, type Prescription, type Probe, type ProbeProposal } from '@vitrocept/core';
import { PROPOSAL_NAMES } from '../words';
import { ProbeLine } from './ProbeLine';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { tileEngine } from '../surfaces/tileEngine';
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
  const [proposals, setProposals] = useState<readonly ProbeProposal[] | 'looking' | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [shown, setShown] = useState<ProbeProposal | null>(null);
  const [pickedId, setPickedId] = useState<string | null>(null);
  const picked = prescription.probes.find(({ id }) => id === pickedId) ?? prescription.probes.at(-1) ?? null;
  const open = Array.isArray(proposals) ? (proposals as readonly ProbeProposal[]) : [];
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

  /** For those without a pointer: a probe in the middle that has the focus, so that arrow keys move it. */
  const placeInMiddle = () => {
    const probe = { id: newId(), name: '', ...within(frame, frame.width / 2, frame.height / 2) };
    change((old) => ({ ...old, probes: [...old.probes, probe] }));
    setPickedId(probe.id);
    setTimeout(() => map.current?.querySelector<SVGGElement>(`[data-probe="${probe.id}"]`)?.focus());
  };
  const accept = (proposal: ProbeProposal) => {
    const probe = {
      id: newId(),
      name: PROPOSAL_NAMES[proposal.kind],
      ...within(frame, proposal.x, proposal.y),
    };
    change((old) => ({ ...old, probes: [...old.probes, probe] }));
    setPickedId(probe.id);
    setProposals(open.filter((other) => other !== proposal));
  };
  const propose = async () => {
    setProposals('looking');
    setFailure(null);
    try {
      setProposals(await tileEngine.proposeProbes({ frame, operations: prescription.mask.operations }));
    } catch (error) {
      setFailure((error as Error).message);
      setProposals(null);
    }
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
          const probe = { id: newId(), name: '', ...placeOf(event) };
          change((old) => ({ ...old, probes: [...old.probes, probe] }), `probe ${probe.id}`);
          setPickedId(probe.id);
          dragged.current = probe.id;
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
            <path d={outline.path} className="mask-outline" vectorEffect="non-scaling-stroke" />
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
          <g
            key={probe.id}
            data-probe={probe.id}
            className="probe-mark"
            transform={`translate(${(probe.x + 0.5) * scale} ${(probe.y + 0.5) * scale})`}
            tabIndex={placesProbes ? 0 : -1}
            role="button"
            aria-label={`Probe ${i + 1}${probe.name ? `, ${probe.name}` : ''}; arrow keys move it, Delete removes it`}
            onKeyDown={(event) => placesProbes && onKey(event, probe)}
            onPointerDown={(event) => {
              if (!placesProbes || event.button !== 0) return;
              event.stopPropagation();
              dragged.current = probe.id;
              setPickedId(probe.id);
              map.current!.setPointerCapture(event.pointerId);
            }}
            onFocus={() => setPickedId(probe.id)}
          >
            {placesProbes && (
              <rect
                className="probe-square"
                x={(-regionOfProbe(probe).width * scale) / 2}
                y={(-regionOfProbe(probe).width * scale) / 2}
                width={regionOfProbe(probe).width * scale}
                height={regionOfProbe(probe).width * scale}
              />
            )}
            <rect x={-9} y={-7} width={18} height={14} />
            <text y={4}>{i + 1}</text>
          </g>
        ))}
      </svg>
      {placesProbes && (
        <>
          {picked && <ProbeLine key={picked.id} probe={picked} probes={prescription.probes} />}
          {proposals === 'looking' && <p className="hint">looking over the frame …</p>}
          {failure && (
            <p className="text-damaged" role="alert">
              Nothing could be proposed: {failure}
            </p>
          )}
          {Array.isArray(proposals) && (
            <ul className="proposals" aria-label="Proposed probes">
              {open.map((proposal) => (
                <li key={proposal.kind}>
                  <button
                    type="button"
                    className="link-button"
                    disabled={isFull}
                    onPointerEnter={() => setShown(proposal)}
                    onPointerLeave={() => setShown(null)}
                    onClick={() => accept(proposal)}
                  >
                    + {PROPOSAL_NAMES[proposal.kind]}
                  </button>
                </li>
              ))}
              {open.length === 0 && <li className="text-soft">nothing more to propose</li>}
            </ul>
          )}
          <p className="hint">
            {isFull
              ? `${MOST_PROBES} probes are the most.`
              : 'Press on the picture to place a probe; drag to move it. '}
            {!isFull && proposals === null && (
              <button type="button" className="link-button" onClick={() => void propose()}>
                Propose some
              </button>
            )}
            {!isFull && proposals === null && ' · '}
            {!isFull && (
              <button type="button" className="link-button" onClick={placeInMiddle}>
                One in the middle
              </button>
            )}
          </p>
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
