import { useEffect, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useNavigate } from 'react-router';
import type { LookReason } from '@vitrocept/core';
import type { Outcome, RoundJob } from '@vitrocept/server';
import { ApiError } from '../api/client';
import { openRoundJob, useOutcome } from '../api/roundQueries';
import { isTyping } from '../input/keys';
import { VerdictMark } from '../parts/AuditMarks';
import { figureText, MEASURE_NAMES } from '../words';

const REASON_WORDS: Record<LookReason, string> = {
  unsure: 'the cause was unsure',
  'no-subject': 'no subject stood out',
  'no-face': 'no face of a person was found',
  'nothing-safe': 'no amount was safe',
  check: 'the audit says check',
  damaged: 'the audit says damaged',
};

type Shown = 'all' | 'look' | 'open';

interface LookThroughProps {
  readonly roundId: string;
  /** Those that are done. */
  readonly jobs: readonly RoundJob[];
}

/**
 * Before and after of every frame at its worst place, accepted or taken back one by one or all together; by keys too.
 */
export function LookThrough({ roundId, jobs }: LookThroughProps) {
  const [shown, setShown] = useState<Shown>('all');
  const [at, setAt] = useState(0);
  const [isHeld, setHeld] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const [asking, setAsking] = useState<RoundJob | null>(null);
  const outcome = useOutcome(roundId);
  const navigate = useNavigate();
  const listed = jobs.filter((job) => shown === 'all' || (shown === 'look' ? job.reasons.length > 0 : !job.outcome));
  const selected = listed[Math.min(at, listed.length - 1)] ?? null;
  /** What was taken back one by one stays so. */
  const kept = listed.filter((job) => job.outcome !== 'taken-back').map(({ id }) => id);
  const decide = (ids: readonly string[], decided: Outcome | null) => {
    setFailure(null);
    outcome.mutate({ ids, outcome: decided }, { onError: ({ message }) => setFailure(message) });
  };
  const open = async (job: RoundJob, replace = false) => {
    try {
      await openRoundJob(job.id, replace);
      await navigate(`/frames/${job.frameId}/trials`);
    } catch (error) {
      if (error instanceof ApiError && error.code === 'HAS_WORK') setAsking(job);
      else setFailure((error as Error).message);
    }
  };

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const isDown = event.type === 'keydown';
      const key = event.key.toLowerCase();
      if (key === '0') setHeld(isDown);
      else if (!isDown || !selected) return;
      else if (key === 'arrowright') setAt(Math.min(listed.length - 1, at + 1));
      else if (key === 'arrowleft') setAt(Math.max(0, at - 1));
      else if (key === 'enter' && event.target === document.body) decide([selected.id], 'accepted');
      else if (key === 'b') decide([selected.id], selected.outcome === 'taken-back' ? null : 'taken-back');
      else if (key === 'o') void open(selected);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onKey);
    };
  });

  return (
    <section aria-label="Look through">
      <div className="look-tools">
        <select aria-label="Shown" value={shown} onChange={({ target }) => setShown(target.value as Shown)}>
          <option value="all">all {jobs.length}</option>
          <option value="look">those that want a look</option>
          <option value="open">not decided yet</option>
        </select>
        <Button size="sm" variant="outline-primary" onClick={() => decide(kept, 'accepted')}>
          Accept all shown
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => decide(kept, 'taken-back')}>
          Take all shown back
        </Button>
        <span>
          <kbd>←</kbd> <kbd>→</kbd> go · hold <kbd>0</kbd> before · <kbd>Enter</kbd> accept · <kbd>B</kbd> take back ·{' '}
          <kbd>O</kbd> open
        </span>
      </div>
      {failure && (
        <p className="text-damaged" role="alert">
          {failure}
        </p>
      )}
      {asking && (
        <p role="alert" className="look-asking">
          {asking.frameName} has work of its own. Replace it by what the round used?{' '}
          <Button size="sm" onClick={() => void open(asking, true)}>
            Replace and open
          </Button>{' '}
          <button
            type="button"
            className="link-button"
            onClick={() => void navigate(`/frames/${asking.frameId}/trials`)}
          >
            Open as it is
          </button>{' '}
          <button type="button" className="link-button" onClick={() => setAsking(null)}>
            Cancel
          </button>
        </p>
      )}
      <div className="look-sheet">
        {listed.map((job, i) => (
          <LookCard
            key={job.id}
            job={job}
            isSelected={job === selected}
            showsBefore={isHeld && job === selected}
            onSelect={() => setAt(i)}
            onDecide={(decided) => decide([job.id], decided)}
            onOpen={() => void open(job)}
          />
        ))}
      </div>
      {listed.length === 0 && <p className="text-soft">None of this kind.</p>}
    </section>
  );
}

interface LookCardProps {
  readonly job: RoundJob;
  readonly isSelected: boolean;
  readonly showsBefore: boolean;
  onSelect(): void;
  onDecide(outcome: Outcome | null): void;
  onOpen(): void;
}

function LookCard({ job, isSelected, showsBefore, onSelect, onDecide, onOpen }: LookCardProps) {
  const { id, frameName, judgement, reasons, outcome } = job;
  const { worst = null, amount = null } = judgement ?? {};
  const picture = (which: 'before' | 'after') => (
    <img src={`/api/round-jobs/${id}/${which}.jpg`} alt={`${frameName} ${which}`} loading="lazy" />
  );
  return (
    <article
      className={`card-plain look-card ${isSelected ? 'is-selected' : ''} ${outcome === 'taken-back' ? 'is-back' : ''}`}
      aria-label={frameName}
      onPointerDown={onSelect}
      ref={(card) => {
        if (isSelected) card?.scrollIntoView({ block: 'nearest' });
      }}
    >
      <div className="look-pair">
        {picture('before')}
        {picture(showsBefore ? 'before' : 'after')}
      </div>
      <div className="frame-name">
        <strong>{frameName}</strong>
        <span className="figure">{amount !== null && `${amount} %`}</span>
      </div>
      {worst ? (
        <div>
          <VerdictMark verdict={worst.verdict} /> {MEASURE_NAMES[worst.figure]}{' '}
          {figureText(worst.figure, { ...worst, at: null })}
        </div>
      ) : (
        <div className="text-soft">nothing recovered</div>
      )}
      {reasons.length > 0 && (
        <div className="look-reasons">A look: {reasons.map((reason) => REASON_WORDS[reason]).join(', ')}.</div>
      )}
      <div className="tray-buttons">
        <button
          type="button"
          className="link-button"
          aria-pressed={outcome === 'accepted'}
          onClick={() => onDecide(outcome === 'accepted' ? null : 'accepted')}
        >
          {outcome === 'accepted' ? 'accepted' : 'accept'}
        </button>
        <button
          type="button"
          className="link-button"
          aria-pressed={outcome === 'taken-back'}
          onClick={() => onDecide(outcome === 'taken-back' ? null : 'taken-back')}
        >
          {outcome === 'taken-back' ? 'taken back; give again' : 'take back'}
        </button>
        <button type="button" className="link-button" onClick={onOpen}>
          open
        </button>
        {outcome !== 'taken-back' && (
          <a className="link-button" href={`/api/round-jobs/${id}/file`} download>
            download
          </a>
        )}
      </div>
    </article>
  );
}
