import { useState } from 'react';
import { MOST_PROBES, type Prescription, type ProbeProposal } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { tileEngine } from '../surfaces/tileEngine';
import { PROPOSAL_NAMES } from '../words';

interface ProbeProposalsProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** Marked on the map while it is pointed at. */
  onShow(proposal: ProbeProposal | null): void;
  /** Those that may still be taken; they stand on the map. */
  onOpen(proposals: readonly ProbeProposal[]): void;
  onAccept(proposal: ProbeProposal): void;
  onPlaceInMiddle(): void;
}

/** Places worth a probe, looked for when asked, taken one by one. */
export function ProbeProposals(props: ProbeProposalsProps) {
  const { frame, prescription, onShow, onOpen, onAccept, onPlaceInMiddle } = props;
  const [proposals, setProposals] = useState<readonly ProbeProposal[] | null>(null);
  const [isLooking, setLooking] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const isFull = prescription.probes.length >= MOST_PROBES;
  const offer = (next: readonly ProbeProposal[]) => {
    setProposals(next);
    onOpen(next);
  };
  const propose = async () => {
    setLooking(true);
    setFailure(null);
    try {
      offer(await tileEngine.proposeProbes({ frame, operations: prescription.mask.operations }));
    } catch (error) {
      setFailure((error as Error).message);
    }
    setLooking(false);
  };
  const canPropose = !isFull && proposals === null && !isLooking;
  return (
    <>
      {isLooking && <p className="hint">looking over the frame …</p>}
      {failure && (
        <p className="text-damaged" role="alert">
          Nothing could be proposed: {failure}
        </p>
      )}
      {proposals && (
        <ul className="proposals" aria-label="Proposed probes">
          {proposals.map((proposal) => (
            <li key={proposal.kind}>
              <button
                type="button"
                className="link-button"
                disabled={isFull}
                onPointerEnter={() => onShow(proposal)}
                onPointerLeave={() => onShow(null)}
                onClick={() => {
                  onAccept(proposal);
                  offer(proposals.filter((other) => other !== proposal));
                }}
              >
                + {PROPOSAL_NAMES[proposal.kind]}
              </button>
            </li>
          ))}
          {proposals.length === 0 && <li className="text-soft">nothing more to propose</li>}
        </ul>
      )}
      <p className="hint">
        {isFull ? `${MOST_PROBES} probes are the most.` : 'Press on the picture to place a probe; drag to move it. '}
        {canPropose && (
          <>
            <button type="button" className="link-button" onClick={() => void propose()}>
              Propose some
            </button>
            {' · '}
          </>
        )}
        {!isFull && (
          <button type="button" className="link-button" onClick={onPlaceInMiddle}>
            One in the middle
          </button>
        )}
      </p>
    </>
  );
}
