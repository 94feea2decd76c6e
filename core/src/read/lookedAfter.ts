import type { AreaOperation } from '../mask/maskOperation';
import type { ProbeProposal } from './proposeProbes';
import type { Reading } from './reading';
import type { WhereToRead } from './whereToRead';

/** What is proposed for a frame that nobody has worked on. */
export interface Proposal {
  /** Where was measured, and the share of the frame it takes up. */
  readonly over: WhereToRead['kind'];
  readonly share: number;
  /** The subject; null where none stands out. */
  readonly mask: AreaOperation | null;
  /** On the subject, the likeliest eye first; px of the frame. */
  readonly probes: readonly ProbeProposal[];
}

/** A frame's Reading, and what is proposed with it. */
export interface LookedAfterFrame {
  readonly reading: Reading;
  readonly proposal: Proposal;
}
