import { minus } from '../picture/arithmetic';
import { gaussianBlur } from '../picture/gaussianBlur';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';

export const PROPOSAL_KINDS = [
  'perhaps-an-eye',
  'finest-texture',
  'strongest-edge',
  'small-enclosed-area',
  'background-edge',
] as const;
export type ProposalKind = (typeof PROPOSAL_KINDS)[number];

/** A place worth watching, in samples of the plane it was found on. */
export interface ProbeProposal {
  readonly kind: ProposalKind;
  readonly x: number;
  readonly y: number;
}

/** Border that is left out, samples. */
const BORDER = 12;
/** Two proposals never lie closer, samples. */
const APART = 14;
const EYE_RADII = [5, 7, 10, 14, 20, 28];
const DIRECTIONS = 16;
/** How far (encoded 0..1) the surroundings must lie above the dark round region, and how round it must be. */
const LEAST_DARKER = 0.035;
const LEAST_ROUND = 0.8;
const LEAST_GLINT = 0.12;
/** An eye lies on a head with this chance at least. */
const LEAST_CHANCE = 0.05;

/**
 * Places to look at first: perhaps an eye (a small bright spot in a dark round region), the subject's finest texture,
 * its strongest edge, a small enclosed area, and an edge against the background. At most one of each; what is not there
 * is left out. The rules are our own; how often the eye is found stands in docs/methods/read.md.
 *
 * @param luma - Encoded 0..1, the frame shrunk to about 1000 samples.
 * @param subject - 0..1, same size; null where no mask was drawn.
 * @param head - ln of the odds that a sample lies on a head, same size: an eye is sought where one is likely; null where
 *   nobody knows.
 */
export function proposeProbes(luma: Plane, subject: Plane | null, head: Plane | null = null): ProbeProposal[] {
  const { width, height } = luma;
  const inside = (x: number, y: number) =>
    x >= BORDER &&
    y >= BORDER &&
    x < width - BORDER &&
    y < height - BORDER &&
    (subject === null || subject.data[y * width + x] > 0.5);
  const found: ProbeProposal[] = [];
  const add = (kind: ProposalKind, scores: Plane, where = inside) => {
    let best = { x: 0, y: 0, score: 1e-9 };
    for (let y = BORDER; y < height - BORDER; y++) {
      for (let x = BORDER; x < width - BORDER; x++) {
        const score = scores.data[y * width + x];
        if (score <= best.score || !where(x, y)) continue;
        if (found.some((other) => Math.hypot(other.x - x, other.y - y) < APART)) continue;
        best = { x, y, score };
      }
    }
    if (best.score > 1e-9) found.push({ kind, x: best.x, y: best.y });
  };
  const eyes = eyeScores(luma, inside);
  add('perhaps-an-eye', head ? onHeads(eyes, head) : eyes);
  const fine = minus(luma, gaussianBlur(luma, 1.5));
  add('finest-texture', evenEnergy(fine));
  const slope = slopes(gaussianBlur(luma, 1.2));
  add('strongest-edge', slope);
  add('small-enclosed-area', enclosed(slope));
  if (subject) {
    const rim = slopes(gaussianBlur(subject, 2));
    const atRim = { ...rim, data: rim.data.map((value, i) => (value > 0.04 ? slope.data[i] + 1e-6 : 0)) };
    add('background-edge', atRim, () => true);
  }
  return found;
}

/** Bright spot, dark ring, brighter surroundings; scores where the spot is. */
function eyeScores(luma: Plane, inside: (x: number, y: number) => boolean): Plane {
  const { width, height } = luma;
  const scores = createPlane(width, height);
  const small = gaussianBlur(luma, 0.8);
  const around = boxMean(luma, 4);
  for (let y = BORDER; y < height - BORDER; y++) {
    for (let x = BORDER; x < width - BORDER; x++) {
      const i = y * width + x;
      const value = small.data[i];
      if (value - around.data[i] < LEAST_GLINT / 2 || !inside(x, y) || !isPeak(small, x, y)) continue;
      for (const radius of EYE_RADII) scores.data[i] = Math.max(scores.data[i], eyeScore(luma, x, y, radius, value));
    }
  }
  return scores;
}

/** The glint may lie off the middle: the best of nine middles counts. */
function eyeScore(luma: Plane, x: number, y: number, radius: number, glint: number): number {
  let best = 0;
  for (const dy of [-0.5, 0, 0.5]) {
    for (const dx of [-0.5, 0, 0.5]) {
      const [cx, cy] = [x + dx * radius, y + dy * radius];
      let [dark, bright, round] = [0, 0, 0];
      for (let k = 0; k < DIRECTIONS; k++) {
        const angle = (2 * Math.PI * k) / DIRECTIONS;
        const inner = valueAt(luma, cx + 0.75 * radius * Math.cos(angle), cy + 0.75 * radius * Math.sin(angle));
        const outer = valueAt(luma, cx + 1.5 * radius * Math.cos(angle), cy + 1.5 * radius * Math.sin(angle));
        dark += inner / DIRECTIONS;
        bright += outer / DIRECTIONS;
        if (outer > inner + 0.01) round += 1 / DIRECTIONS;
      }
      if (bright - dark < LEAST_DARKER || round < LEAST_ROUND || glint - dark < LEAST_GLINT) continue;
      best = Math.max(best, (glint - dark) * (bright - dark) * round ** 4 * (0.3 - Math.min(0.29, dark)));
    }
  }
  return best;
}

function isPeak({ width, data }: Plane, x: number, y: number): boolean {
  const value = data[y * width + x];
  for (let dy = -2; dy <= 2; dy++) {
    for (let dx = -2; dx <= 2; dx++) if (data[(y + dy) * width + x + dx] > value) return false;
  }
  return true;
}

function valueAt({ width, height, data }: Plane, x: number, y: number): number {
  const column = Math.min(width - 1, Math.max(0, Math.round(x)));
  return data[Math.min(height - 1, Math.max(0, Math.round(y))) * width + column];
}

/** Energy that is there in all four quarters of a square of 17 samples: texture, not one edge. */
function evenEnergy(fine: Plane): Plane {
  const energy = boxMean({ ...fine, data: fine.data.map((value) => value * value) }, 4);
  const { width, height } = fine;
  const out = createPlane(width, height);
  for (let y = BORDER; y < height - BORDER; y++) {
    for (let x = BORDER; x < width - BORDER; x++) {
      const at = (dx: number, dy: number) => energy.data[(y + dy) * width + x + dx];
      out.data[y * width + x] = Math.min(at(-6, -6), at(6, -6), at(-6, 6), at(6, 6));
    }
  }
  return out;
}

function slopes({ width, height, data }: Plane): Plane {
  const out = createPlane(width, height);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      out.data[i] = Math.hypot(data[i + 1] - data[i - 1], data[i + width] - data[i - width]) / 2;
    }
  }
  return out;
}

const ENCLOSING_RADII = [4, 5, 6, 7];

const times = <T>(count: number, make: (k: number) => T): T[] => Array.from({ length: count }, (_, k) => make(k));

/** Calm inside, edges all around: the gap between hairs, where recovery likes to leave crust. */
function enclosed(slope: Plane): Plane {
  const { width, height } = slope;
  const calm = boxMean(slope, 2);
  const out = createPlane(width, height);
  const around = times(8, (k) => {
    const angle = (Math.PI * k) / 4;
    return ENCLOSING_RADII.map((r) => Math.round(r * Math.sin(angle)) * width + Math.round(r * Math.cos(angle)));
  });
  for (let y = BORDER; y < height - BORDER; y++) {
    for (let x = BORDER; x < width - BORDER; x++) {
      const i = y * width + x;
      let least = Infinity;
      for (const direction of around) {
        let most = 0;
        for (const offset of direction) most = Math.max(most, slope.data[i + offset]);
        least = Math.min(least, most);
      }
      out.data[i] = Math.max(0, least - 2 * calm.data[i]);
    }
  }
  return out;
}

/** Scores times the chance that a sample lies on a head; 0 where that is hardly so. */
function onHeads(scores: Plane, head: Plane): Plane {
  const data = scores.data.map((score, i) => {
    const chance = 1 / (1 + Math.exp(-head.data[i]));
    return chance < LEAST_CHANCE ? 0 : score * chance;
  });
  return { ...scores, data };
}
