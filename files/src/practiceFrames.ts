import { seededRandom } from '@vitrocept/core';

type Fault = 'none' | 'missed-focus' | 'softness' | 'movement' | 'shake';

/** A photograph that the practice camera takes of a known scene: the same for ever, told by its number. */
export interface PracticeFrame {
  readonly name: string;
  readonly scene: string;
  /** Upper left corner in the scene, px. */
  readonly x: number;
  readonly y: number;
  readonly fault: Fault;
  /** Across, px. */
  readonly blurPx: number;
  readonly iso: number;
  readonly seed: number;
  /** A DNG with the sensor's mosaic in place of a JPEG. */
  readonly isMosaic?: boolean;
  /** Of the diaphragm, 5 to 11; 0 or left out: round. */
  readonly blades?: number;
  /** Of the JPEG. */
  readonly quality?: number;
  /** By how much a shaking camera turns about the middle, degrees. */
  readonly turnDeg?: number;
}

/** Of every photograph, px. */
export const PRACTICE_SIZE = { width: 840, height: 560 };
/** Parts of the demo's truths with the subject in them, by their middle, px. */
const SCENES = [
  { scene: 'marten.jpg', x: 744, y: 575, roomX: 120, roomY: 90 },
  { scene: 'beetle.jpg', x: 998, y: 712, roomX: 140, roomY: 80 },
  { scene: 'puppet.jpg', x: 959, y: 520, roomX: 110, roomY: 70 },
  { scene: 'card.jpg', x: 800, y: 480, roomX: 40, roomY: 30 },
] as const;
/** How many of each, with the range of sizes and of ISO they are drawn from. */
const FAULTS: readonly { fault: Fault; count: number; blur: [number, number]; iso: readonly number[] }[] = [
  { fault: 'none', count: 6, blur: [0, 0], iso: [100, 200, 400] },
  { fault: 'none', count: 5, blur: [0, 0], iso: [12800, 25600] },
  { fault: 'missed-focus', count: 10, blur: [3, 13], iso: [200, 400, 1600, 6400] },
  { fault: 'movement', count: 6, blur: [5, 20], iso: [400, 1600, 6400] },
  { fault: 'shake', count: 6, blur: [8, 24], iso: [400, 1600, 3200] },
  { fault: 'softness', count: 4, blur: [2, 5], iso: [200, 800] },
  { fault: 'missed-focus', count: 3, blur: [56, 72], iso: [12800, 25600] },
];
const FIRST_NUMBER = 1001;
const SPREAD_SEED = 26;

/** Forty frames in the order in which they would lie on a card, faults and scenes mixed, and one as a raw file. */
export function practiceFrames(): PracticeFrame[] {
  const random = seededRandom(SPREAD_SEED);
  const drawn = FAULTS.flatMap(({ fault, count, blur: [least, most], iso }) =>
    Array.from({ length: count }, (_, i) => {
      const { scene, x, y, roomX, roomY } = SCENES[Math.floor(random.uniform() * SCENES.length)];
      return {
        scene,
        x: Math.round(x - PRACTICE_SIZE.width / 2 + roomX * (2 * random.uniform() - 1)),
        y: Math.round(y - PRACTICE_SIZE.height / 2 + roomY * (2 * random.uniform() - 1)),
        fault,
        blurPx: least + (most - least) * random.uniform(),
        iso: iso[i % iso.length],
        order: random.uniform(),
      };
    }),
  );
  const taken = drawn
    .sort((a, b) => a.order - b.order)
    .map(({ order: _, ...frame }, i) => ({ ...frame, name: `saltmere-${FIRST_NUMBER + i}.jpg`, seed: i + 1 }));
  return [...taken, RAW_FRAME];
}

/** A marten focused in front of, as a raw file. */
const RAW_FRAME: PracticeFrame = {
  ...practiceFrameAt(0, { name: 'saltmere-1041.dng', fault: 'missed-focus', blurPx: 6, iso: 800, seed: 41 }),
  isMosaic: true,
};

/** A frame of the middle of one of the scenes. */
export function practiceFrameAt(scene: number, rest: Omit<PracticeFrame, 'scene' | 'x' | 'y'>): PracticeFrame {
  const { scene: file, x, y } = SCENES[scene];
  return {
    ...rest,
    scene: file,
    x: Math.round(x - PRACTICE_SIZE.width / 2),
    y: Math.round(y - PRACTICE_SIZE.height / 2),
  };
}

/** The known scenes, by number. */
export const PRACTICE_SCENES: readonly string[] = SCENES.map(({ scene }) => scene);
