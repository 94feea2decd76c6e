import { DAB_CORE, middleOf, sureFrom } from './dabs';
import { LOCAL_PARTS, SURE, within, type FoundSubject } from './findSubject';
import { geodesicDistance } from './geodesic';
import { gridCut } from './gridCut';
import type { Dab } from './maskOperation';
import { costIn, fitMixture } from './mixture';
import { isHole, piecesOf } from './pieces';
import { FEATURES, LOCAL_FEATURES, localFeatures, samplesWhere, smoothed } from './subjectFeatures';

/** What a dab says at its own place, in nats, and over how much crossed ground it holds. */
const DAB_PULL = 30;
const DAB_HOLD = 0.75;
const DAB_STEP = 0.01;
const DAB_FREE = 0.8;
/** What was found before stays unless more than this speaks against it. */
const KEPT_PULL = 3;
const COLOUR_SHARE = 2;
/** How far, in its radii, a dab has to be from an outline to be deep in something. */
const DEEP_FROM = 1.5;

/**
 * Solves again with the person's dabs. A dab speaks for all that can be reached from it without crossing an edge, more
 * than for what lies behind one; elsewhere what was found stays.
 *
 * @param dabs - In px of the small picture; later ones win.
 * @returns 1 where the subject is.
 */
export function mendSubject(subject: FoundSubject, dabs: readonly Dab[]): Uint8Array {
  const { width, height, features, grid } = subject;
  const found = wholePieces(subject.labels, dabs, width, height);
  const sure = heard(dabs, found, width, height);
  const smooth = smoothed(features, width, height);
  const leaningFrom = (said: Int8Array): Float32Array => {
    const reachedFrom = (sign: 1 | -1) => {
      const seeds = new Uint8Array(said.length);
      for (let i = 0; i < seeds.length; i++) if (said[i] === sign) seeds[i] = 1;
      return geodesicDistance(smooth, FEATURES, width, seeds, 6, DAB_STEP, DAB_FREE);
    };
    const [toSubject, toRest] = [reachedFrom(1), reachedFrom(-1)];
    const hold = (crossed: number) => DAB_PULL * Math.exp(-((crossed / DAB_HOLD) ** 2));
    const leaning = new Float32Array(said.length);
    for (let i = 0; i < leaning.length; i++) {
      const nearest = toSubject[i] < toRest[i] ? hold(toSubject[i]) : -hold(toRest[i]);
      leaning[i] = nearest + (found[i] === 1 ? KEPT_PULL : -KEPT_PULL);
    }
    return leaning;
  };
  const leaning = leaningFrom(sure);
  const local = localFeatures(features, width);
  // A dab deep in what was missed or taken wrongly speaks for the colours around it, one beside an outline only for its
  // place.
  const deep = dabs.filter((dab) => isDeep(dab, found, width, height));
  const taught =
    deep.length === dabs.length ? leaning : deep.length > 0 ? leaningFrom(heard(deep, found, width, height)) : null;
  const labels = found.map((label, i) =>
    sure[i] !== 0 ? (sure[i] > 0 ? 1 : 0) : taught ? (taught[i] > 0 ? 1 : 0) : label,
  );
  const inside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 1),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const outside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 0),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const pull = new Float32Array(found.length);
  for (let i = 0; i < pull.length; i++) {
    const said = costIn(outside, local, LOCAL_FEATURES * i) - costIn(inside, local, LOCAL_FEATURES * i);
    pull[i] = sure[i] !== 0 ? sure[i] * SURE : leaning[i] + COLOUR_SHARE * within(said);
  }
  return nearDabs(found, gridCut(grid, pull), sure, width, height);
}

/** What the dabs say; one whose middle says what was found anyway mends an outline, and that is not drawn here. */
function heard(dabs: readonly Dab[], found: Uint8Array, width: number, height: number): Int8Array {
  const sure = new Int8Array(found.length);
  for (const dab of dabs) {
    const sign = dab.isSubject ? 1 : -1;
    const isNews = found[middleOf(dab, width, height)] !== (dab.isSubject ? 1 : 0);
    const own = sureFrom([dab], width, height, DAB_CORE);
    for (let i = 0; i < own.length; i++) {
      if (own[i] !== 0 && (isNews || found[i] === (sign === 1 ? 1 : 0))) sure[i] = sign;
    }
  }
  return sure;
}

/** Whether nothing that was found to be as the dab says lies near it. */
function isDeep({ x, y, radius, isSubject }: Dab, found: Uint8Array, width: number, height: number): boolean {
  const reach = DEEP_FROM * radius;
  for (let v = Math.max(0, Math.ceil(y - reach)); v <= Math.min(height - 1, y + reach); v++) {
    for (let u = Math.max(0, Math.ceil(x - reach)); u <= Math.min(width - 1, x + reach); u++) {
      if (Math.hypot(u - x, v - y) <= reach && found[v * width + u] === (isSubject ? 1 : 0)) return false;
    }
  }
  return true;
}

/** A dab on a piece apart from the subject takes all of it away, one in a hole fills it. */
function wholePieces(found: Uint8Array, dabs: readonly Dab[], width: number, height: number): Uint8Array {
  const out = found.slice();
  for (const dab of dabs) {
    const { isSubject } = dab;
    const at = middleOf(dab, width, height);
    const label = isSubject ? 0 : 1;
    if (out[at] !== label) continue;
    const pieces = piecesOf(out, label, width, height);
    const hit = pieces.find((piece) => piece.includes(at));
    if (!hit) continue;
    const isApart = isSubject
      ? isHole(hit, width, height)
      : hit.length < Math.max(...pieces.map(({ length }) => length));
    if (isApart) for (const i of hit) out[i] = 1 - label;
  }
  return out;
}

/**
 * What was found, changed only as the dabs say and only where that hangs together with one of them: a dab repairs its
 * own surroundings and leaves the rest of a good mask alone.
 */
function nearDabs(found: Uint8Array, solved: Uint8Array, sure: Int8Array, width: number, height: number): Uint8Array {
  const out = found.slice();
  for (const label of [1, 0] as const) {
    const sign = label === 1 ? 1 : -1;
    const turned = Uint8Array.from(solved, (value, i) =>
      sure[i] === sign || (value === label && found[i] !== label && sure[i] === 0) ? 1 : 0,
    );
    for (const piece of piecesOf(turned, 1, width, height)) {
      if (piece.some((i) => sure[i] === sign)) for (const i of piece) out[i] = label;
    }
  }
  return out;
}
