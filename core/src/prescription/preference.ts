import type { Comparison } from './prescription';

/** Each trial has won and lost half a comparison against an average one: nobody is infinitely good after one answer. */
const PRIOR = 0.5;
const ROUNDS = 60;
/** The leader must be this likely to be preferred to every other that is still in question. */
const SURE = 0.7;
const LEAST_ANSWERS_EACH = 2;
/** A trial this likely to lose against the leader is out of question. */
const OUT = 0.85;
const MOST_ANSWERS_PER_TRIAL = 5;

/**
 * Strength of each trial after the answers: trial i is preferred to j with chance sᵢ / (sᵢ + sⱼ). "No difference"
 * counts half for each. Strengths have mean 1.
 *
 * Source: Bradley & Terry, Biometrika 39 (1952), solved by the iteration of Hunter, Annals of Statistics 32 (2004).
 */
export function strengthsOf(ids: readonly string[], answers: readonly Comparison[]): number[] {
  const own = answers.filter(({ left, right }) => ids.includes(left) && ids.includes(right));
  let strengths = ids.map(() => 1);
  for (let round = 0; round < ROUNDS; round++) {
    const next = ids.map((id, i) => {
      let wins = PRIOR;
      let weight = (2 * PRIOR) / (strengths[i] + 1);
      for (const { left, right, preferred } of own) {
        if (left !== id && right !== id) continue;
        const other = strengths[ids.indexOf(left === id ? right : left)];
        wins += preferred === null ? 0.5 : preferred === id ? 1 : 0;
        weight += 1 / (strengths[i] + other);
      }
      return wins / weight;
    });
    const mean = next.reduce((sum, value) => sum + value, 0) / next.length;
    strengths = next.map((value) => value / mean);
  }
  return strengths;
}

export interface Preference {
  readonly best: string;
  /** Share of the answers that agree with the ranking; "no difference" agrees by half. */
  readonly agreement: number;
  readonly answers: number;
  /** From the most to the least preferred. */
  readonly ranking: readonly string[];
}

/** What the answers say so far. */
export function preferenceOf(ids: readonly string[], answers: readonly Comparison[]): Preference {
  const strengths = strengthsOf(ids, answers);
  const strength = (id: string) => strengths[ids.indexOf(id)];
  const own = answers.filter(({ left, right }) => ids.includes(left) && ids.includes(right));
  const agreed = own.reduce((sum, { left, right, preferred }) => {
    if (preferred === null) return sum + 0.5;
    return sum + (strength(preferred) >= strength(preferred === left ? right : left) ? 1 : 0);
  }, 0);
  const ranking = [...ids].sort((p, q) => strength(q) - strength(p));
  return { best: ranking[0], agreement: own.length > 0 ? agreed / own.length : 0, answers: own.length, ranking };
}

/**
 * The next question: the leader against the strongest that is still in question, sides by chance; null when it is
 * settled. Settled: the leader is preferred with at least 70 % to every trial not yet out of question (85 %), each of
 * those was asked about twice or more, or five questions a trial were asked.
 */
export function nextQuestion(
  ids: readonly string[],
  answers: readonly Comparison[],
  random: () => number,
): readonly [string, string] | null {
  if (ids.length < 2) return null;
  const { best, ranking, answers: count } = preferenceOf(ids, answers);
  if (count >= MOST_ANSWERS_PER_TRIAL * ids.length) return null;
  const strengths = strengthsOf(ids, answers);
  const chance = (other: string) => {
    const [s, t] = [strengths[ids.indexOf(best)], strengths[ids.indexOf(other)]];
    return s / (s + t);
  };
  const asked = (id: string) => answers.filter(({ left, right }) => left === id || right === id).length;
  const open = ranking.filter(
    (id) =>
      id !== best && (asked(id) === 0 || (chance(id) < OUT && (chance(id) < SURE || asked(id) < LEAST_ANSWERS_EACH))),
  );
  if (open.length === 0) return null;
  const rival = open.reduce((a, b) => (asked(b) < asked(a) ? b : a));
  return random() < 0.5 ? [best, rival] : [rival, best];
}
