import { fromOpponent, toOpponent } from '../picture/opponentColours';
import type { Channels } from '../picture/picture';
import { bilinear } from '../picture/bilinear';
import { createPlane, type Plane } from '../picture/plane';
import type { SeededRandom } from '../seededRandom';

export const FAKES = ['catch-light', 'moved-edge', 'iris-hue', 'hair-strokes', 'stamped-texture'] as const;
export type Fake = (typeof FAKES)[number];

export interface Forgery {
  /** The picture with the fake in it, linear light. */
  readonly channels: Plane[];
  readonly x: number;
  readonly y: number;
  /** The fake lies within this distance of its place, px. */
  readonly radius: number;
}

const TRIES = 24;

/**
 * Puts one invented feature into a picture on purpose, to test whether the audit finds it.
 *
 * @param strength - 1 is plain to the eye, 0.5 faint, 2 coarse.
 * @param allowed - Where a fake may lie (1) or not (0); it keeps `margin` px from the border.
 */
export function forge(
  picture: Channels,
  fake: Fake,
  strength: number,
  allowed: Plane,
  margin: number,
  random: SeededRandom,
): Forgery {
  const place = placeFor(fake, picture, allowed, margin, random);
  const channels = picture.map((plane) => ({ ...plane, data: plane.data.slice() }));
  const radius = DRAW[fake](channels, place.x, place.y, strength, random);
  return { channels, ...place, radius };
}

function placeFor(fake: Fake, picture: Channels, allowed: Plane, margin: number, random: SeededRandom) {
  const { width, height } = picture[0];
  let best = { x: width >> 1, y: height >> 1 };
  let most = -1;
  for (let i = 0; i < TRIES || (most < 0 && i < 50 * TRIES); i++) {
    const x = Math.floor(margin + random.uniform() * (width - 2 * margin));
    const y = Math.floor(margin + random.uniform() * (height - 2 * margin));
    if (allowed.data[y * width + x] < 1) continue;
    const worth = fake === 'moved-edge' ? slopeAt(picture[0], x, y) : fake === 'iris-hue' ? colourAt(picture, x, y) : 0;
    if (worth > most) [best, most] = [{ x, y }, worth];
  }
  return best;
}

function slopeAt({ width, data }: Plane, x: number, y: number): number {
  const i = y * width + x;
  return Math.hypot(data[i + 3] - data[i - 3], data[i + 3 * width] - data[i - 3 * width]);
}

function colourAt(picture: Channels, x: number, y: number): number {
  const values = picture.map(({ width, data }) => data[y * width + x]);
  return Math.max(...values) - Math.min(...values);
}

type Draw = (channels: Plane[], x: number, y: number, strength: number, random: SeededRandom) => number;

const DRAW: Record<Fake, Draw> = {
  /** A small bright disc, as light reflected in an eye. */
  'catch-light'(channels, cx, cy, strength, random) {
    const radius = 1.5 + 1.5 * random.uniform();
    eachWithin(channels[0], cx, cy, radius + 1, (i, distance) => {
      const share = Math.min(1, Math.max(0, radius + 0.5 - distance));
      for (const { data } of channels) data[i] += share * 0.35 * strength * Math.max(0.3, 1 - data[i]);
    });
    return radius + 1;
  },

  /** The surroundings of an edge slid along by a px or so. */
  'moved-edge'(channels, cx, cy, strength, random) {
    const radius = 10 + 4 * random.uniform();
    const angle = 2 * Math.PI * random.uniform();
    const [dx, dy] = [1.5 * strength * Math.cos(angle), 1.5 * strength * Math.sin(angle)];
    for (const plane of channels) {
      const before = { ...plane, data: plane.data.slice() };
      eachWithin(plane, cx, cy, radius, (i, distance) => {
        const share = Math.min(1, (radius - distance) / 3);
        const [x, y] = [i % plane.width, Math.floor(i / plane.width)];
        plane.data[i] = bilinear(before, x - share * dx, y - share * dy);
      });
    }
    return radius;
  },

  /** The colours of a round place turned. */
  'iris-hue'(channels, cx, cy, strength, random) {
    const radius = 6 + 4 * random.uniform();
    const turn = Math.min(Math.PI, (Math.PI / 2.5) * strength) * (random.uniform() < 0.5 ? -1 : 1);
    const [bright, red, green] = toOpponent(channels);
    if (!red) return radius;
    eachWithin(channels[0], cx, cy, radius, (i, distance) => {
      const share = Math.min(1, radius - distance);
      const [p, q] = [red.data[i], green.data[i]];
      red.data[i] += share * (p * Math.cos(turn) - q * Math.sin(turn) - p);
      green.data[i] += share * (p * Math.sin(turn) + q * Math.cos(turn) - q);
    });
    fromOpponent([bright, red, green]).forEach((plane, c) => channels[c].data.set(plane.data));
    return radius;
  },

  /** Fine strokes side by side. */
  'hair-strokes'(channels, cx, cy, strength, random) {
    const angle = Math.PI * random.uniform();
    const half = 7 + 7 * random.uniform();
    const width = 1 + random.uniform();
    const sign = random.uniform() < 0.5 ? -1 : 1;
    for (const offset of [-5, 0, 5]) {
      const [ox, oy] = [cx - offset * Math.sin(angle), cy + offset * Math.cos(angle)];
      eachWithin(channels[0], ox, oy, half + 2, (i, _, dx, dy) => {
        const along = Math.abs(dx * Math.cos(angle) + dy * Math.sin(angle));
        const across = Math.abs(dy * Math.cos(angle) - dx * Math.sin(angle));
        const share = Math.min(1, Math.max(0, width / 2 + 0.5 - across)) * Math.min(1, Math.max(0, half - along));
        for (const { data } of channels) data[i] *= 1 + 0.5 * strength * sign * share * (sign < 0 ? 0.9 : 1.6);
      });
    }
    return half + 6;
  },

  /** A patch of even, fine texture. */
  'stamped-texture'(channels, cx, cy, strength, random) {
    const radius = 9 + 5 * random.uniform();
    const grain = createPlane(2 * Math.ceil(radius) + 5, 2 * Math.ceil(radius) + 5);
    for (let i = 0; i < grain.data.length; i++) grain.data[i] = random.normal();
    const side = grain.width;
    eachWithin(channels[0], cx, cy, radius, (i, distance, dx, dy) => {
      const at = (Math.round(dy) + (side >> 1)) * side + Math.round(dx) + (side >> 1);
      // Two px fine: coarser than noise, finer than what a blur leaves.
      const value = (grain.data[at] + grain.data[at + 1] + grain.data[at + side] + grain.data[at + side + 1]) / 2;
      const share = Math.min(1, (radius - distance) / 2);
      for (const { data } of channels) data[i] += 0.2 * strength * share * value * Math.max(0.02, data[i]);
    });
    return radius;
  },
};

function eachWithin(
  { width, height }: Plane,
  cx: number,
  cy: number,
  radius: number,
  visit: (index: number, distance: number, dx: number, dy: number) => void,
): void {
  for (let y = Math.max(0, Math.ceil(cy - radius)); y <= Math.min(height - 1, cy + radius); y++) {
    for (let x = Math.max(0, Math.ceil(cx - radius)); x <= Math.min(width - 1, cx + radius); x++) {
      const distance = Math.hypot(x - cx, y - cy);
      if (distance <= radius) visit(y * width + x, distance, x - cx, y - cy);
    }
  }
}
