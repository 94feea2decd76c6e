import type { Verdict } from '../audit/limits';
import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { encodedLuma, halo, inventedDetail, psnr } from './measures';

/** Whether the audit was right about a place. */
export const ALARM_OUTCOMES = ['right alarm', 'missed', 'false alarm', 'rightly quiet', 'not judged'] as const;
export type AlarmOutcome = (typeof ALARM_OUTCOMES)[number];

/** One place of a practice result against the truth, beside what the audit said of it. */
export interface PlaceGrade extends Region {
  readonly name: string;
  /** dB nearer to the truth than the photograph. */
  readonly gain: number;
  /** Levels of 255 outside of the truth's range nearby, more than the photograph's. */
  readonly halo: number;
  /** Energy of fine detail that the truth does not explain, of the truth's own, more than the photograph's. */
  readonly invented: number;
  readonly verdict: Verdict;
  readonly outcome: AlarmOutcome;
}

/** From here a place is worse than what was photographed, dB. */
const WORSE_DB = -0.5;
/** From here a rim is seen, levels of 255 in the mean. */
const SEEN_HALO = 1.5;
/** From here detail is seen that was never there. */
const SEEN_INVENTED = 0.35;

/**
 * @param result - sRGB-encoded, as truth and photograph; all three cover the place and BORDER_PX round it.
 */
export function gradeOfPlace(
  name: string,
  { x, y, width, height }: Region,
  result: readonly Plane[],
  truth: readonly Plane[],
  photographed: readonly Plane[],
  verdict: Verdict,
): PlaceGrade {
  const [own, known, before] = [result, truth, photographed].map(encodedLuma);
  const gain = psnr(result, truth) - psnr(photographed, truth);
  const rim = halo(own, known) - halo(before, known);
  const invented = inventedDetail(own, known) - inventedDetail(before, known);
  const isWorse = gain < WORSE_DB || rim > SEEN_HALO || invented > SEEN_INVENTED;
  return { name, x, y, width, height, gain, halo: rim, invented, verdict, outcome: outcomeOf(verdict, isWorse) };
}

function outcomeOf(verdict: Verdict, isWorse: boolean): AlarmOutcome {
  if (verdict === 'not measurable') return 'not judged';
  const isAlarm = verdict === 'check' || verdict === 'damaged';
  if (isAlarm) return isWorse ? 'right alarm' : 'false alarm';
  return isWorse ? 'missed' : 'rightly quiet';
}
