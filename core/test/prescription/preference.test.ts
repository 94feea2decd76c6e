import { describe, expect, it } from 'vitest';
import { nextQuestion, preferenceOf, seededRandom, strengthsOf, type Comparison } from '../../src';

const IDS = ['a', 'b', 'c', 'd', 'e'];
const answer = (left: string, right: string, preferred: string | null): Comparison => ({
  left,
  right,
  preferred,
  probe: 'p',
});

/** Someone who likes `liked` best and the rest by their distance from it, wrong now and then. */
function askUntilSettled(liked: number, wrongShare: number, seed: number): Comparison[] {
  const random = seededRandom(seed);
  const answers: Comparison[] = [];
  for (let pair = nextQuestion(IDS, answers, random.uniform); pair; pair = nextQuestion(IDS, answers, random.uniform)) {
    const [p, q] = pair.map((id) => Math.abs(IDS.indexOf(id) - liked));
    const right = p <= q ? pair[0] : pair[1];
    const wrong = right === pair[0] ? pair[1] : pair[0];
    answers.push(answer(pair[0], pair[1], random.uniform() < wrongShare ? wrong : right));
  }
  return answers;
}

describe('which is better', () => {
  it('two trials: odds of a Bradley–Terry pair follow the wins', () => {
    const answers = [
      ...Array<Comparison>(60).fill(answer('a', 'b', 'a')),
      ...Array<Comparison>(20).fill(answer('a', 'b', 'b')),
    ];
    const [a, b] = strengthsOf(['a', 'b'], answers);
    // Three to one, but for the weak prior.
    expect(a / (a + b)).toBeCloseTo(0.75, 1);
  });

  it.each([0, 2, 4])('a steady preference for trial %i is found, in agreement', (liked) => {
    const answers = askUntilSettled(liked, 0, 7 + liked);
    const found = preferenceOf(IDS, answers);
    expect(found.best).toBe(IDS[liked]);
    expect(found.agreement).toBeGreaterThan(0.8);
    expect(answers.length).toBeLessThanOrEqual(25);
  });

  it('someone who errs once in eight is still mostly understood', () => {
    let right = 0;
    for (let seed = 0; seed < 40; seed++) {
      if (Math.abs(IDS.indexOf(preferenceOf(IDS, askUntilSettled(2, 0.125, seed)).best) - 2) <= 1) right++;
    }
    expect(right).toBeGreaterThanOrEqual(34);
  });

  it('someone who sees no difference is asked no more than five times a trial', () => {
    const answers: Comparison[] = [];
    const random = seededRandom(3);
    for (
      let pair = nextQuestion(IDS, answers, random.uniform);
      pair;
      pair = nextQuestion(IDS, answers, random.uniform)
    ) {
      answers.push(answer(...pair, null));
    }
    expect(answers.length).toBeLessThanOrEqual(25);
    expect(preferenceOf(IDS, answers).agreement).toBe(0.5);
  });

  it('one trial needs no question', () => {
    expect(nextQuestion(['a'], [], Math.random)).toBeNull();
  });
});
