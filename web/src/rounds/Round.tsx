import Button from 'react-bootstrap/Button';
import { useParams } from 'react-router';
import { SAVE_FORMAT_DESCRIPTIONS } from '@vitrocept/core';
import type { RoundDetail, RoundJob } from '@vitrocept/server';
import { useRound, useRoundAct } from '../api/roundQueries';
import { LookThrough } from './LookThrough';
import { RoundBar, roundWords } from './Rounds';
import './rounds.css';

const STATE_WORDS: Record<RoundJob['state'], string> = {
  waiting: 'waiting',
  measuring: 'being measured',
  judging: 'being judged',
  rendering: 'being rendered',
  done: 'done',
  failed: 'failed',
  stopped: 'stopped',
};

/** One round: how far it is, what it does next, and its results to look through. */
export function Round() {
  const { roundId = '' } = useParams();
  const { data: round, error, isPending } = useRound(roundId);
  if (error) return <main className="page text-damaged">{error.message}</main>;
  if (isPending) return <main className="page text-soft">Loading …</main>;
  const done = round.jobs.filter(({ state }) => state === 'done');
  const others = round.jobs.filter(({ state }) => state !== 'done');
  return (
    <main className="page">
      <RoundHead round={round} />
      {done.length > 0 ? (
        <LookThrough roundId={round.id} jobs={done} />
      ) : (
        <p className="text-soft">Results are looked through here as soon as the first is done.</p>
      )}
      {others.length > 0 && (
        <section aria-label="Not done">
          <h2>Not done</h2>
          <ul className="round-others">
            {others.map((job) => (
              <li key={job.id}>
                <span>{job.frameName}</span>
                <span className={job.state === 'failed' ? 'text-damaged' : 'text-soft'}>
                  {STATE_WORDS[job.state]}
                  {job.error && `: ${job.error}`}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

function RoundHead({ round }: { round: RoundDetail }) {
  const act = useRoundAct(round.id);
  const { state, counts, format, folder } = round;
  const isOpen = state === 'going' || state === 'paused';
  const canTryAgain = !isOpen && counts.failed + counts.stopped > 0;
  const press = (name: Parameters<typeof act.mutate>[0], text: string) => (
    <Button size="sm" variant="outline-primary" disabled={act.isPending} onClick={() => act.mutate(name)}>
      {text}
    </Button>
  );
  return (
    <header className="round-head">
      <div>
        <h1>{round.name}</h1>
        <p role="status">{roundWords(round)}</p>
        <p className="text-soft">
          {SAVE_FORMAT_DESCRIPTIONS[format].name}
          {round.longEdgePx && `, ${round.longEdgePx} px long`} into the outbox{folder && ` › ${folder}`}, named{' '}
          {round.namePattern}
        </p>
      </div>
      <div className="tray-buttons">
        {state === 'going' && press('pause', 'Pause')}
        {state === 'paused' && press('go-on', 'Go on')}
        {isOpen && press('first', 'Before other rounds')}
        {isOpen && press('stop', 'Stop')}
        {counts.done > 0 && (
          <a className="btn btn-sm btn-outline-primary" href={`/api/rounds/${round.id}/proof.pdf`} download>
            Proof sheets (PDF)
          </a>
        )}
        {canTryAgain && press('go-on', 'Try the rest again')}
      </div>
      <RoundBar round={round} />
      {act.error && (
        <p className="text-damaged" role="alert">
          {act.error.message}
        </p>
      )}
    </header>
  );
}
