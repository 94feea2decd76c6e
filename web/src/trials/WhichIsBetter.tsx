import { useEffect, useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import {
  MOST_COMPARISONS,
  nextQuestion,
  preferenceOf,
  type Comparison,
  type Prescription,
  type Probe,
  type Trial,
} from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { isTyping } from '../input/keys';
import { useFrameStore } from '../stores/frameStore';
import { WallCell } from '../parts/WallCell';
import { trialLetter, trialName } from '../words';

const CELL = { width: 448, height: 480 };

interface WhichIsBetterProps {
  readonly frame: WorkerFrame;
  readonly original: Prescription;
  readonly trials: readonly Trial[];
  readonly tried: readonly Prescription[];
  readonly probes: readonly Probe[];
  readonly magnification: number;
  onChoose(trialId: string): void;
  onClose(): void;
}

/** Two unnamed cells: left, right or no difference. Answers are kept with the frame and settle on one trial. */
export function WhichIsBetter(props: WhichIsBetterProps) {
  const { frame, original, trials, tried, probes, magnification, onChoose, onClose } = props;
  const { prescription, change } = useFrameStore();
  const ids = useMemo(() => trials.map(({ id }) => id), [trials]);
  const [since, setSince] = useState(() => prescription?.comparisons?.length ?? 0);
  const all = prescription?.comparisons ?? [];
  // Undo may have taken answers back from before this sitting.
  const answers = all.slice(Math.min(since, all.length));
  const count = answers.length;
  // A question stays the same until it is answered.
  const question = useMemo(
    () => nextQuestion(ids, answers, Math.random),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a new answer, a new question
    [ids, count],
  );
  const probe = probes[count % probes.length];
  const found = preferenceOf(ids, answers);

  const answer = (preferred: string | null) => {
    if (!question) return;
    const given: Comparison = { left: question[0], right: question[1], preferred, probe: probe.id };
    change((old) => ({ ...old, comparisons: [...(old.comparisons ?? []), given].slice(-MOST_COMPARISONS) }));
  };

  useAnswerKeys(question, answer, onClose);

  return (
    <section className="which-is-better" aria-label="Which is better?">
      <div className="close-look-head">
        <strong>Which is better?</strong>
        <span className="text-soft">
          {question ? `question ${count + 1}, at most ${5 * ids.length}` : `settled after ${count} answers`}
        </span>
        <Button size="sm" variant="outline-primary" onClick={onClose}>
          Back to the Wall <kbd>Esc</kbd>
        </Button>
      </div>
      {question ? (
        <Question {...{ frame, original, tried, ids, probe, magnification, question, count, answer }} />
      ) : (
        <Settled
          trials={trials}
          found={found}
          onChoose={() => {
            onChoose(found.best);
            onClose();
          }}
          onAskAgain={() => setSince(all.length)}
        />
      )}
    </section>
  );
}

type Pair = ReturnType<typeof nextQuestion>;

function useAnswerKeys(question: Pair, answer: (preferred: string | null) => void, onClose: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === 'ArrowLeft') answer(question?.[0] ?? null);
      else if (event.key === 'ArrowRight') answer(question?.[1] ?? null);
      else if (event.key === 'ArrowDown') answer(null);
      else if (event.key === 'Escape') onClose();
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  });
}

interface QuestionProps {
  readonly frame: WorkerFrame;
  readonly original: Prescription;
  readonly tried: readonly Prescription[];
  readonly ids: readonly string[];
  readonly probe: Probe;
  readonly magnification: number;
  readonly question: NonNullable<Pair>;
  readonly count: number;
  answer(preferred: string | null): void;
}

function Question(props: QuestionProps) {
  const { frame, original, tried, ids, probe, magnification, question, count, answer } = props;
  return (
    <>
      <div className="unnamed-pair" key={count}>
        {question.map((id, side) => (
          <WallCell
            key={side}
            frame={frame}
            prescription={tried[ids.indexOf(id)]}
            original={original}
            centre={probe}
            magnification={magnification}
            {...CELL}
            showOriginal={false}
            rank={side}
            label={side === 0 ? 'Left' : 'Right'}
            figures={null}
            isUnnamed
            onPan={() => undefined}
          />
        ))}
      </div>
      <div className="answers">
        <Button variant="outline-primary" onClick={() => answer(question[0])}>
          Left <kbd>←</kbd>
        </Button>
        <Button variant="outline-primary" onClick={() => answer(null)}>
          No difference <kbd>↓</kbd>
        </Button>
        <Button variant="outline-primary" onClick={() => answer(question[1])}>
          Right <kbd>→</kbd>
        </Button>
      </div>
    </>
  );
}

interface SettledProps {
  readonly trials: readonly Trial[];
  readonly found: ReturnType<typeof preferenceOf>;
  onChoose(): void;
  onAskAgain(): void;
}

function Settled({ trials, found, onChoose, onAskAgain }: SettledProps) {
  const letterOf = (id: string) => trialLetter(trials.findIndex((trial) => trial.id === id));
  const best = trials.find(({ id }) => id === found.best);
  return (
    <div className="settled">
      <h2>
        You prefer {letterOf(found.best)} · {best ? trialName(best) : ''}
      </h2>
      <p>
        {Math.round(100 * found.agreement)} % of {found.answers} answers agree with this order:{' '}
        {found.ranking.map(letterOf).join(' › ')}
      </p>
      <p className="text-soft">
        Each answer moves a ranking of chances (Bradley and Terry). It is settled when the leader would win seven times
        in ten against every trial still in question, or after five questions a trial.
      </p>
      <div className="answers">
        <Button onClick={onChoose}>Choose it</Button>
        <Button variant="outline-primary" onClick={onAskAgain}>
          Ask again
        </Button>
      </div>
    </div>
  );
}
