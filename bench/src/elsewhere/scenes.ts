import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fetchPictures, SCENES, STORE, type SceneSource } from '../pictures';

/**
 * Scenes are divided once. *tune*: numbers may be fitted on them. *choose*: looked at to choose between ways and to fit
 * confidence. *report*: run for a note only; nothing may be changed because of what they show.
 */
export const PARTS = ['tune', 'choose', 'report'] as const;
export type Part = (typeof PARTS)[number];

const PACKAGES: Record<Part, readonly string[]> = {
  tune: ['mate-backgrounds', 'python3-skimage'],
  choose: ['lomiri-wallpapers-16.04', 'lomiri-wallpapers-20.04', 'plasma-workspace-wallpapers'],
  report: ['opencv-doc', 'python3-sklearn', 'python3-scipy'],
};

const scene = (name: string, file: string, shrink: number, x: number, y: number): SceneSource => ({
  name,
  file,
  shrink,
  x,
  y,
});

const WALLS = 'usr/share/backgrounds';
const PLASMA = 'usr/share/wallpapers';
const EXAMPLES = 'usr/share/doc/opencv-doc/examples';
const FLOWERS = 'usr/lib/python3/dist-packages/sklearn/datasets/images';
const RACCOON_PACKED = 'usr/lib/python3/dist-packages/scipy/misc/face.dat';
const RACCOON = 'raccoon.png';

const CHOOSE: readonly SceneSource[] = [
  scene('shell', `${PLASMA}/Shell/contents/images/5120x2880.jpg`, 3, 560, 220),
  scene('dragonfly', `${WALLS}/Dragonfly_*.jpg`, 3, 480, 100),
  scene('seeding', `${WALLS}/seeding_*.jpg`, 3, 200, 60),
  scene('friends', `${WALLS}/friends_*.jpg`, 2, 60, 300),
  scene('peaks', `${WALLS}/picosdeeuropa_*.jpg`, 2, 300, 200),
  scene('nuthatch', `${WALLS}/Kleiber_*.jpg`, 3, 700, 100),
  scene('cups', `${PLASMA}/ColorfulCups/contents/images/2560x1600.jpg`, 2, 380, 140),
  scene('leaf', `${PLASMA}/FallenLeaf/contents/images/2560x1600.jpg`, 2, 380, 140),
  scene('path', `${PLASMA}/Path/contents/images/2560x1600.jpg`, 2, 380, 140),
  scene('water', `${PLASMA}/BytheWater/contents/images/2560x1600.jpg`, 2, 380, 140),
  scene('stands out', `${PLASMA}/OneStandsOut/contents/images/2560x1600.jpg`, 2, 380, 140),
  scene('grey', `${PLASMA}/Grey/contents/images/2560x1600.jpg`, 2, 380, 140),
];

const REPORT: readonly SceneSource[] = [
  scene('aloe', `${EXAMPLES}/data/aloeL.jpg`, 2, 40, 0),
  scene('fruits', `${EXAMPLES}/data/fruits.jpg`, 1, 0, 0),
  scene('toys', `${EXAMPLES}/data/rubberwhale1.png`, 1, 24, 0),
  scene('plant', `${EXAMPLES}/alphamat/input_images/plant.jpg`, 1, 0, 0),
  scene('building', `${EXAMPLES}/data/building.jpg`, 1, 150, 0),
  scene('squirrel', `${EXAMPLES}/data/squirrel_cls.jpg`, 1, 0, 0),
  scene('street', `${EXAMPLES}/data/leuvenA.jpg`, 1, 100, 0),
  scene('board', `${EXAMPLES}/data/board.jpg`, 1, 60, 0),
  scene('dog', `${EXAMPLES}/data/chicky_512.png`, 1, 0, 0),
  scene('pagoda', `${FLOWERS}/china.jpg`, 1, 0, 0),
  scene('dahlia', `${FLOWERS}/flower.jpg`, 1, 60, 0),
  scene('raccoon', RACCOON, 1, 420, 60),
];

/** Of flat colours and crisp edges. */
const DRAWING: SceneSource = scene('drawing', `${EXAMPLES}/fuzzy/input.png`, 1, 0, 0);

export const SCENES_OF: Record<Part, readonly SceneSource[]> = {
  tune: SCENES,
  choose: CHOOSE,
  report: [...REPORT, DRAWING],
};

/** Fetches the packages of a part; scipy keeps its picture packed, so it is unpacked once. */
export function fetchScenes(part: Part): void {
  const files = SCENES_OF[part].filter(({ file }) => file !== RACCOON);
  fetchPictures(files, PACKAGES[part]);
  if (part !== 'report' || existsSync(join(STORE, RACCOON))) return;
  if (!existsSync(join(STORE, RACCOON_PACKED))) {
    fetchPictures([scene('raccoon', RACCOON_PACKED, 1, 0, 0)], ['python3-scipy']);
  }
  const unpack = [
    'import bz2, sys, numpy, skimage.io',
    'pixels = numpy.frombuffer(bz2.decompress(open(sys.argv[1], "rb").read()), "uint8").reshape(768, 1024, 3)',
    'skimage.io.imsave(sys.argv[2], pixels)',
  ].join('\n');
  execFileSync('/usr/bin/python3', ['-c', unpack, join(STORE, RACCOON_PACKED), join(STORE, RACCOON)], {
    stdio: 'ignore',
  });
}
