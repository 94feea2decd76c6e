import { Link } from 'react-router';
import type { RoundSummary } from '@vitrocept/server';
import { useRounds } from '../api/roundQueries';
import { timeLeft } from '../words';
import './rounds.css';

const STATE_WORDS = { going: 'under way', paused: 'paused', stopped: 'stopped', ended: 'through' } as const;

export function roundWords({ state, counts, secondsLeft, note }: RoundSummary): string {
  const parts = [STATE_WORDS[state], `${counts.done} done`];
  if (counts.left > 0) parts.push(`${counts.left} to come`);
  if (counts.needsLook > 0) parts.push(`${counts.needsLook} want a look`);
  if (counts.failed > 0) parts.push(`${counts.failed} failed`);
  if (state === 'going' && counts.left > 0) parts.push(secondsLeft === null ? 'estimating' : timeLeft(secondsLeft));
  if (note) parts.push(note);
  return parts.join(' · ');
}

/** All rounds, the newest first. */
export function Rounds() {
  const { data: rounds, error, isPending } = useRounds();
  return (
    <main className="page">
      <h1>Rounds</h1>
      <p>
        <Link to="/hand-off">Hand-off folders</Link>{' '}
        <span className="text-soft">take files of other programs in, and recover them by themselves</span>
      </p>
      {error && <p className="text-damaged">{error.message}</p>}
      {isPending && <p className="text-soft">Loading …</p>}
      {rounds?.length === 0 && (
        <p className="text-soft">
          No round yet. In a shoot, choose frames and use a <Link to="/prescriptions">kept prescription</Link> on them.
        </p>
      )}
      <div className="round-list">
        {rounds?.map((round) => (
          <Link key={round.id} to={`/rounds/${round.id}`} className="card-plain round-card">
            <strong>{round.name}</strong>
            <span className="text-soft">{roundWords(round)}</span>
            <RoundBar round={round} />
          </Link>
        ))}
      </div>
    </main>
  );
}

export function RoundBar({ round: { counts } }: { round: RoundSummary }) {
  const all = counts.left + counts.done + counts.failed + counts.stopped;
  return <progress value={all - counts.left} max={Math.max(1, all)} aria-label="Frames through" />;
}
