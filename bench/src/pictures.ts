import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { cropPlane, decodePiece, wholeOf, type Plane, type Region } from '@vitrocept/core';
import { pieceOf, readPicture } from '@vitrocept/files';
import { ROOT } from './root';

/** A sharp scene cut from an openly licensed picture of a Debian package, or from a demo truth. */
export interface SceneSource {
  readonly name: string;
  readonly file: string;
  /** Shrunk by this whole number first: a photograph is sharp only some way down. */
  readonly shrink: number;
  /** Place of the cut in the shrunk picture; grown where the picture is too small. */
  readonly x: number;
  readonly y: number;
}

const PACKAGES = ['mate-backgrounds', 'python3-skimage'];
export const STORE = join(ROOT, 'bench', '.pictures');
const NATURE = 'usr/share/backgrounds/mate/nature';
const SCIENCE = 'usr/lib/python3/dist-packages/skimage/data';

export const SCENES: readonly SceneSource[] = [
  { name: 'ladybird', file: `${NATURE}/LadyBird.jpg`, shrink: 2, x: 560, y: 130 },
  { name: 'seed heads', file: `${NATURE}/TwoWings.jpg`, shrink: 2, x: 640, y: 150 },
  { name: 'sunflower', file: `${NATURE}/YellowFlower.jpg`, shrink: 2, x: 620, y: 160 },
  { name: 'petals', file: `${NATURE}/FreshFlower.jpg`, shrink: 2, x: 150, y: 0 },
  { name: 'meadow', file: `${NATURE}/GreenMeadow.jpg`, shrink: 2, x: 20, y: 0 },
  { name: 'dune grass', file: `${NATURE}/Dune.jpg`, shrink: 1, x: 560, y: 380 },
  { name: 'coffee', file: `${SCIENCE}/coffee.png`, shrink: 1, x: 90, y: 0 },
  { name: 'cat', file: `${SCIENCE}/chelsea.png`, shrink: 1, x: 0, y: 0 },
  { name: 'motorcycle', file: `${SCIENCE}/motorcycle_left.png`, shrink: 1, x: 120, y: 0 },
  { name: 'launch', file: `${SCIENCE}/rocket.jpg`, shrink: 1, x: 120, y: 0 },
  { name: 'brick', file: `${SCIENCE}/brick.png`, shrink: 1, x: 0, y: 0 },
  { name: 'gravel', file: `${SCIENCE}/gravel.png`, shrink: 1, x: 0, y: 0 },
  { name: 'tissue', file: `${SCIENCE}/ihc.png`, shrink: 1, x: 0, y: 0 },
  { name: 'text', file: `${SCIENCE}/page.png`, shrink: 1, x: 0, y: 0 },
  { name: 'marten', file: 'demo/truth/marten.jpg', shrink: 1, x: 490, y: 320 },
  { name: 'puppet face', file: 'demo/truth/puppet.jpg', shrink: 1, x: 700, y: 300 },
  { name: 'puppet hair', file: 'demo/truth/puppet.jpg', shrink: 1, x: 620, y: 0 },
  { name: 'marten back', file: 'demo/truth/marten.jpg', shrink: 1, x: 1100, y: 500 },
  { name: 'beetle wing', file: 'demo/truth/beetle.jpg', shrink: 1, x: 300, y: 700 },
  { name: 'weevil', file: 'demo/truth/beetle.jpg', shrink: 1, x: 740, y: 440 },
];

/** Fetches and unpacks the packages once; nothing of them is installed or kept in the project's history. */
export function fetchPictures(scenes: readonly SceneSource[] = SCENES, packages: readonly string[] = PACKAGES): void {
  mkdirSync(STORE, { recursive: true });
  if (scenes.every(({ file }) => existsSync(placeOf(file)))) return;
  for (const name of packages) {
    execFileSync('apt-get', ['-o', 'APT::Sandbox::User=root', 'download', name], { cwd: STORE, stdio: 'ignore' });
    const file = readdirSync(STORE).find((entry) => entry.startsWith(`${name}_`));
    execFileSync('dpkg-deb', ['-x', join(STORE, file!), STORE]);
  }
}

/** Where a scene's file lies; of a name with a *, the one file whose name begins and ends so. */
function placeOf(file: string): string {
  const place = join(file.startsWith('demo/') ? ROOT : STORE, file);
  const [start, ending] = basename(place).split('*');
  if (ending === undefined || !existsSync(dirname(place))) return place;
  const found = readdirSync(dirname(place)).find((name) => name.startsWith(start) && name.endsWith(ending));
  return join(dirname(place), found ?? basename(place));
}

/** The scene in linear light, three channels; smaller than asked where the picture is. */
export async function loadScene(source: SceneSource, side: number): Promise<Plane[]> {
  const picture = await readPicture(placeOf(source.file));
  const whole = wholeOf(picture);
  const decoded = decodePiece(pieceOf(picture, whole), whole, picture.space).map((plane) =>
    shrunk(plane, source.shrink),
  );
  const { width, height } = decoded[0];
  const cut: Region = {
    x: Math.max(0, Math.min(source.x, width - side)),
    y: Math.max(0, Math.min(source.y, height - side)),
    width: Math.min(side, width),
    height: Math.min(side, height),
  };
  const channels = decoded.map((plane) => cropPlane(plane, cut));
  return channels.length === 3 ? channels : [channels[0], channels[0], channels[0]];
}

/** Mean over squares of `by` px, in linear light. */
function shrunk(plane: Plane, by: number): Plane {
  if (by === 1) return plane;
  const width = Math.floor(plane.width / by);
  const height = Math.floor(plane.height / by);
  const data = new Float32Array(width * height);
  for (let y = 0; y < height * by; y++) {
    const row = Math.floor(y / by) * width;
    for (let x = 0; x < width * by; x++) data[row + Math.floor(x / by)] += plane.data[y * plane.width + x];
  }
  return { width, height, data: data.map((value) => value / (by * by)) };
}
