import Button from 'react-bootstrap/Button';
import { dropProposed, isProposed, keepProposed, type Prescription, type ProposedPart } from '@vitrocept/core';
import { useFrameStore } from '../stores/frameStore';

interface ProposedNoteProps {
  readonly prescription: Prescription;
  /** Those that this step shows. */
  readonly parts: readonly ProposedPart[];
  /** What is proposed, as a sentence. */
  readonly children: string;
}

/** Says that something is proposed only; one press uses it, one takes it away. */
export function ProposedNote({ prescription, parts, children }: ProposedNoteProps) {
  const change = useFrameStore((state) => state.change);
  const open = parts.filter((part) => isProposed(prescription, part));
  if (open.length === 0) return null;
  const all = (act: typeof keepProposed) => change((old) => open.reduce((one, part) => act(one, part), old));
  return (
    <div className="proposed-note" role="status">
      <span className="proposed-sign" aria-hidden />
      <span>{children}</span>
      <Button size="sm" variant="outline-primary" onClick={() => all(keepProposed)}>
        Use it
      </Button>
      <button type="button" className="link-button" onClick={() => all(dropProposed)}>
        Take it away
      </button>
    </div>
  );
}
