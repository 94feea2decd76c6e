import type { KeptAudit, KeptLikeness } from '../prescription/prescription';
import type { Verdict } from '../audit/limits';

/** Measures of the audit in the order in which they are told. */
export const MEASURES = ['halo', 'unproven', 'ringing', 'colour', 'grain', 'leak'] as const;
export type Measure = (typeof MEASURES)[number];

export const VERDICT_ORDER: Record<Verdict, number> = { damaged: 3, check: 2, safe: 1, 'not measurable': 0 };

export type Judged = Readonly<Record<Exclude<Measure, 'leak'>, JudgedFigure>> & { readonly leak?: JudgedFigure };
interface JudgedFigure {
  readonly verdict: Verdict;
  readonly value: number;
}
const NOT_JUDGED: JudgedFigure = { verdict: 'not measurable', value: 0 };

/** The same of an audit that was kept with a choice. */
export function keptAuditSentence(kept: KeptAudit, where: string): string {
  return judgedSentence(kept, where, 'the photograph does not back some detail');
}

export function judgedSentence(judged: Judged, where: string, unproven: string): string {
  const all = MEASURES.map((measure) => ({ measure, ...(judged[measure] ?? NOT_JUDGED) }));
  const [{ measure, verdict, value }] = all.sort((p, q) => VERDICT_ORDER[q.verdict] - VERDICT_ORDER[p.verdict]);
  if (verdict === 'not measurable') return `${where} nothing can be measured.`;
  if (verdict === 'safe') return `${where} nothing stands out.`;
  switch (measure) {
    case 'halo':
      return `${where} an edge overshoots by ${value.toFixed(0)} % of its step.`;
    case 'ringing':
      return `${where} stripes beside an edge swing by ${value.toFixed(0)} % of its step.`;
    case 'unproven':
      return `${where} ${unproven}.`;
    case 'colour':
      return `${where} colours have moved by ${value.toFixed(1)} ΔE₀₀.`;
    case 'leak':
      return `${where} the soft background beyond the mask’s edge has gained structure of ${value.toFixed(1)} levels of 255.`;
    case 'grain':
      return `${where} grain has become ${value.toFixed(1)} times as strong.`;
  }
}

/** The worst of a part's likeness in plain words. */
export function likenessSentence({ shift, hue, structure }: Pick<KeptLikeness, 'shift' | 'hue' | 'structure'>): string {
  const measures = { shift, hue, structure };
  const worst = (['structure', 'shift', 'hue'] as const).reduce((p, q) =>
    VERDICT_ORDER[measures[q].verdict] > VERDICT_ORDER[measures[p].verdict] ? q : p,
  );
  if (VERDICT_ORDER[measures[worst].verdict] < VERDICT_ORDER.check) return 'As in the photograph.';
  if (worst === 'shift') return `Moved by ${shift.value.toFixed(1)} % of the distance between the eyes.`;
  if (worst === 'hue') return `Its colour has turned by ${hue.value.toFixed(1)} ΔE₀₀.`;
  return 'Its drawing contradicts the photograph.';
}
