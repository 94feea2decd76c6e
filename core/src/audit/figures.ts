import type { Region } from '../picture/region';
import { intersect, isEmpty } from '../picture/region';
import {
  DRIFT_STEPS,
  DRIFT_STRIDE,
  LEAK_STEPS,
  levelOfByte,
  MAP_STRIDE,
  NOT_CHECKABLE,
  RIM_STEPS,
  UNPROVEN_KINDS,
  type RegionAudit,
} from './auditPlanes';
import { FLAT_SIDE_PX } from './grainRise';
import { levelOf, LIMITS, verdictOf, worstOf, type Limit, type Verdict } from './limits';

/** A place of the frame, px. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

export interface Figure {
  readonly verdict: Verdict;
  readonly value: number;
  /** Where it is worst; null where there is no such place. */
  readonly at: Place | null;
}

/** All figures over one region. */
export interface Figures {
  /** % of the step, 95th percentile over its edges. */
  readonly halo: Figure;
  readonly ringing: Figure;
  /** Level: 1 is where *check* begins, 2 where *damaged* begins. */
  readonly unproven: Figure & { readonly kind: (typeof UNPROVEN_KINDS)[number] | null };
  /** CIEDE2000, 95th percentile. */
  readonly colour: Figure;
  /** Noise after over before. */
  readonly grain: Figure;
  /** Structure added to an out-of-focus background beyond the mask's edge, levels of 255, 95th percentile. */
  readonly leak: Figure;
  /** 10–90 % width of edges, px, medians; null where there are too few. */
  readonly gain: { readonly before: number; readonly after: number } | null;
  readonly worst: Verdict;
}

/** Fewer edges than these say nothing. */
export const LEAST_EDGES = 8;
export const LEAST_FLAT_PX = 400;

const NOTHING: Figure = { verdict: 'not measurable', value: 0, at: null };

/** Gathers what the audits of several pieces found inside `region`. */
export function figuresOver(audits: readonly RegionAudit[], region: Region): Figures {
  const within = <T extends Place>(list: readonly T[]) =>
    list.filter(
      ({ x, y }) => x >= region.x && y >= region.y && x < region.x + region.width && y < region.y + region.height,
    );
  const edges = audits.flatMap((audit) => within(audit.edges));
  const flats = audits.flatMap((audit) => within(audit.flats));
  const enough = edges.length >= LEAST_EDGES;
  const halo = enough ? highest(edges, (edge) => edge.haloPercent, LIMITS.halo) : NOTHING;
  const ringing = enough ? highest(edges, (edge) => edge.ringingPercent, LIMITS.ringing) : NOTHING;
  const unproven = worstUnproven(audits, region);
  const colour = worstDrift(audits, region);
  const leak = worstLeak(audits, region);
  const grain = flats.length * FLAT_SIDE_PX ** 2 >= LEAST_FLAT_PX ? grainOf(flats) : NOTHING;
  return {
    halo,
    ringing,
    unproven,
    colour,
    grain,
    leak,
    gain: enough
      ? { before: median(edges.map((edge) => edge.widthBefore)), after: median(edges.map((edge) => edge.widthAfter)) }
      : null,
    worst: worstOf([halo, ringing, unproven, colour, grain, leak].map(({ verdict }) => verdict)),
  };
}

/** Of a picture that nothing was done to. */
export function unchangedFigures(): Figures {
  const safe: Figure = { verdict: 'safe', value: 0, at: null };
  return {
    halo: safe,
    ringing: safe,
    unproven: { ...safe, kind: null },
    colour: safe,
    grain: { ...safe, value: 1 },
    leak: safe,
    gain: null,
    worst: 'safe',
  };
}

function highest<T extends Place>(list: readonly T[], pick: (item: T) => number, limit: Limit): Figure {
  const sorted = [...list].sort((p, q) => pick(p) - pick(q));
  const at = sorted[Math.min(sorted.length - 1, Math.floor(0.95 * sorted.length))];
  return { verdict: verdictOf(pick(at), limit), value: pick(at), at: { x: at.x, y: at.y } };
}

function worstUnproven(audits: readonly RegionAudit[], region: Region): Figures['unproven'] {
  let most = -1;
  let worst: (Place & { kind: number })[] = [];
  for (const audit of audits) {
    eachSquare(audit.region, region, MAP_STRIDE, (i, x, y) => {
      if (audit.kind[i] === NOT_CHECKABLE || audit.unproven[i] < most) return;
      if (audit.unproven[i] > most) worst = [];
      most = audit.unproven[i];
      worst.push({ x, y, kind: audit.kind[i] });
    });
  }
  if (most < 0) return { ...NOTHING, kind: null };
  const value = levelOfByte(most);
  const { x, y, kind } = mostCentral(worst);
  return { verdict: verdictOf(value, { check: 1, damaged: 2 }), value, at: { x, y }, kind: UNPROVEN_KINDS[kind] };
}

/** Of equally bad places the one nearest their middle. */
function mostCentral<T extends Place>(places: readonly T[]): T {
  const x = places.reduce((sum, place) => sum + place.x, 0) / places.length;
  const y = places.reduce((sum, place) => sum + place.y, 0) / places.length;
  const far = (place: Place) => Math.hypot(place.x - x, place.y - y);
  return places.reduce((a, b) => (far(b) < far(a) ? b : a));
}

function worstDrift(audits: readonly RegionAudit[], region: Region): Figure {
  const found: { value: number; x: number; y: number }[] = [];
  for (const audit of audits) {
    eachSquare(audit.region, region, DRIFT_STRIDE, (i, x, y) => {
      if (audit.drift[i] !== NOT_CHECKABLE) found.push({ value: audit.drift[i] / DRIFT_STEPS, x, y });
    });
  }
  if (found.length === 0) return NOTHING;
  found.sort((p, q) => p.value - q.value);
  const at = found[Math.min(found.length - 1, Math.floor(0.95 * found.length))];
  return { verdict: verdictOf(at.value, LIMITS.colour), value: at.value, at: { x: at.x, y: at.y } };
}

/** Fewer squares than these say nothing. */
const LEAST_LEAK_SQUARES = 25;

function worstLeak(audits: readonly RegionAudit[], region: Region): Figure {
  const found: { value: number; x: number; y: number }[] = [];
  for (const audit of audits) {
    eachSquare(audit.region, region, MAP_STRIDE, (i, x, y) => {
      if (audit.leak[i] !== NOT_CHECKABLE) found.push({ value: audit.leak[i] / LEAK_STEPS, x, y });
    });
  }
  return found.length < LEAST_LEAK_SQUARES ? NOTHING : highest(found, ({ value }) => value, LIMITS.leak);
}

/** What can be drawn over the pixels. */
export const AUDIT_MAPS = ['unproven', 'rim', 'drift', 'leak'] as const;
export type AuditMap = (typeof AUDIT_MAPS)[number];

/** Visits every square of one map over `region` that can be judged, with its level: 1 is *check*, 2 *damaged*. */
export function eachLevel(
  audit: RegionAudit,
  map: AuditMap,
  region: Region,
  visit: (level: number, x: number, y: number) => void,
): void {
  eachSquare(audit.region, region, map === 'drift' ? DRIFT_STRIDE : MAP_STRIDE, (i, x, y) => {
    switch (map) {
      case 'unproven':
        if (audit.kind[i] !== NOT_CHECKABLE) visit(levelOfByte(audit.unproven[i]), x, y);
        return;
      case 'rim':
        visit(levelOf(audit.rim[i] / RIM_STEPS, LIMITS.rim), x, y);
        return;
      case 'drift':
        if (audit.drift[i] !== NOT_CHECKABLE) visit(levelOf(audit.drift[i] / DRIFT_STEPS, LIMITS.colour), x, y);
        return;
      case 'leak':
        if (audit.leak[i] !== NOT_CHECKABLE) visit(levelOf(audit.leak[i] / LEAK_STEPS, LIMITS.leak), x, y);
    }
  });
}

/** Squares of a map over `own` whose middle lies in `region`. */
export function eachSquare(
  own: Region,
  region: Region,
  stride: number,
  visit: (index: number, x: number, y: number) => void,
): void {
  const part = intersect(own, region);
  if (isEmpty(part)) return;
  const columns = Math.ceil(own.width / stride);
  const half = stride >> 1;
  for (let y = Math.floor((part.y - own.y) / stride); y * stride < part.y - own.y + part.height; y++) {
    for (let x = Math.floor((part.x - own.x) / stride); x * stride < part.x - own.x + part.width; x++) {
      visit(y * columns + x, own.x + x * stride + half, own.y + y * stride + half);
    }
  }
}

function grainOf(flats: readonly { before: number; after: number; x: number; y: number }[]): Figure {
  const sum = (pick: (flat: { before: number; after: number }) => number) =>
    flats.reduce((total, flat) => total + pick(flat), 0);
  const value = Math.sqrt(sum((flat) => flat.after) / sum((flat) => flat.before));
  const worst = flats.reduce((a, b) => (b.after / b.before > a.after / a.before ? b : a));
  const half = FLAT_SIDE_PX >> 1;
  return { verdict: verdictOf(value, LIMITS.grain), value, at: { x: worst.x + half, y: worst.y + half } };
}

function median(values: number[]): number {
  values.sort((p, q) => p - q);
  return values[values.length >> 1];
}
