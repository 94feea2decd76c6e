import Button from 'react-bootstrap/Button';
import type { ChallengeSummary } from '@vitrocept/server';

/** So much of the best known result earns the point. */
const ENOUGH = 0.9;
/** So much worse than the photograph is still left alone, dB. */
const LEFT_ALONE = -0.1;

interface ChallengesProps {
  readonly challenges: readonly ChallengeSummary[];
  readonly isBusy: boolean;
  onTake(name: string): void;
}

/** Twelve cases from easy to hopeless, with the best known result and one's own. */
export function Challenges({ challenges, isBusy, onTake }: ChallengesProps) {
  const earned = challenges.filter(isEarned).length;
  return (
    <section aria-label="Challenges">
      <h2>
        Challenges{' '}
        <span className="text-soft">
          {earned} of {challenges.length} earned
        </span>
      </h2>
      <p className="text-soft">
        From easy to hopeless. In some nothing can be had: leaving those alone earns the point. Which they are is told
        once you have been graded.
      </p>
      <table className="practice-table">
        <thead>
          <tr>
            <th>Case</th>
            <th>How it was taken</th>
            <th>Best known</th>
            <th>Yours</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {challenges.map((challenge) => (
            <tr key={challenge.name} data-earned={isEarned(challenge)}>
              <td>{challenge.name}</td>
              <td>{challenge.told}</td>
              <td>
                <span className="figure">{challenge.own === null ? '·' : bestWords(challenge)}</span>
              </td>
              <td>
                <span className="figure">{challenge.own === null ? 'not graded yet' : gainWords(challenge.own)}</span>
                {isEarned(challenge) && ' · earned'}
              </td>
              <td>
                <Button size="sm" variant="outline-primary" disabled={isBusy} onClick={() => onTake(challenge.name)}>
                  Photograph
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function isEarned({ own, best, isBestLeftAlone }: ChallengeSummary): boolean {
  if (own === null) return false;
  return isBestLeftAlone ? own >= LEFT_ALONE : own >= ENOUGH * best.gain;
}

const gainWords = (gain: number) => `${gain < 0 ? '−' : '+'}${Math.abs(gain).toFixed(1)} dB`;

const bestWords = ({ best, isBestLeftAlone }: ChallengeSummary) =>
  isBestLeftAlone ? 'left alone' : `${gainWords(best.gain)} (Automatic ${best.version})`;
