import * as Comlink from 'comlink';
import {
  atFullAmount,
  areaOperation,
  asLinearSrgb,
  atFullStrength,
  auditFacePart,
  auditTile,
  auditVersion,
  checkedAround,
  cleanTile,
  colourAt,
  contentKey,
  coveredBy,
  createPlane,
  changesLight,
  cropPlane,
  cutTo,
  decodePiece,
  drawMask,
  DRAFT_EFFORT,
  encodeChannels,
  encodeTile,
  FINAL_EFFORT,
  frameRegionFor,
  grow,
  guideAfter,
  intersect,
  isFinished,
  isRecovered,
  likelySubject,
  judgeFinishing,
  keepingAnswers,
  keyOfPixels,
  LastUsed,
  makeArea,
  MOST_AREA_SIDE,
  needsFrameGuide,
  originOf,
  passThrough,
  pastePlane,
  pictureOver,
  placedIn,
  prepareSubject,
  proposeProbes,
  QUIET,
  REC709_WEIGHTS,
  recoveredOnly,
  regionNeeded,
  tilesToRender,
  regionOfPart,
  sideFor,
  strongestSafe,
  subjectArea,
  tilesTouching,
  VERSION_MARGIN,
  type Channels,
  type Kernels,
  type Plane,
  type Prescription,
  type Region,
  type RenderSource,
  type Size,
  type SolvedTile,
  type StageEffort,
  type TileAudit,
} from '@vitrocept/core';
import { createKernels } from '@vitrocept/kernels';
import { codesOf, guideOf, remembered, spaceOf, versionCodesOf } from './frameSamples';
import { automaticOf, clippingPoints, greyGains, lensIn, litPicture, sourceFor } from './light';
import type { FacePartJob, JobVersion, ShownTile, WorkerApi, WorkerFrame } from './protocol';
import { linearOf, removedPixels, shownPixels } from './shown';

let kernels: Promise<Kernels> | null = null;
/**
 * The last tiles that were solved, about 6 MB each: Amount only mixes the answer with the original, so it need not
 * wait.
 */
const solvedTiles = new LastUsed<string, SolvedTile>(8);

/** What the audit said of the last tiles: light and finishing change nothing of it. */
const judgedTiles = new LastUsed<string, TileAudit>(64);

const api: WorkerApi = {
  async warmUp({ binary, texture, subject }) {
    const fetched = async (url: string) => (await fetch(url)).arrayBuffer();
    kernels ??= Promise.all([fetched(binary), fetched(texture), fetched(subject)])
      .then((parts) => createKernels(...parts))
      .then((loaded) => keepingAnswers(loaded));
    await kernels;
  },

  async showTile({ frame, prescription, tile, effort, audits, version, shows }, stop) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const flag = new Int32Array(stop);
    let isSolved = false;
    const space = await spaceOf(frame);
    const guide = needsFrameGuide(prescription) ? await guideOf(frame) : undefined;
    const source = { frame, space, guide };
    if (version) return showVersion(source, prescription, version, tile, frame, await kernels);
    if (prescription.cleaning && !isRecovered(prescription) && (shows === 'removed' || !isFinished(prescription))) {
      return showCleaned(source, prescription, tile, frame, shows === 'removed', await kernels);
    }
    const work = {
      ...workOf(frame, effort, await kernels, () => (isSolved = true)),
      shouldStop: () => Atomics.load(flag, 0) === 1,
    };
    const piece = await codesOf(frame, regionNeeded(source, prescription, tile, work));
    const began = performance.now();
    const passed = passThrough(source, prescription, piece, tile, work);
    const seconds = (performance.now() - began) / 1000;
    const { codes } = encodeTile(source, piece, tile, passed);
    const rgba = shownPixels(codes, space, space.description === 'sRGB');
    const solved = passed?.solved;
    const isJudged = audits && solved?.layers.some(({ isAtWork }) => isAtWork);
    const audit = isJudged
      ? judgedTiles.of(`${frame.id} ${keyOfPixels(recoveredOnly(prescription))} ${contentKey(tile)}`, () =>
          auditTile(source, prescription, piece, tile, solved!, frame.bits, work),
        )
      : null;
    const trialId = prescription.recovery?.badlySoft && prescription.recovery.trialId;
    const whole =
      trialId && isSolved && effort === 'final'
        ? { trialId, seconds: secondsForWhole(seconds, piece.region, source, prescription, work) }
        : undefined;
    return Comlink.transfer({ width: tile.width, height: tile.height, rgba, audit, check: null, whole }, [rgba.buffer]);
  },

  drawMask({ operations, region, scale }) {
    const { width, height, data } = drawMask(operations, region, scale);
    const values = new Float32Array(data);
    return Promise.resolve(Comlink.transfer({ width, height, values }, [values.buffer]));
  },

  async proposeProbes({ frame, operations }) {
    await kernels;
    const luma = await smallLuma(frame);
    const head = likelySubject(await pictureOf(frame, SMALL_SIDE))?.head ?? null;
    const scale = luma.width / frame.width;
    const subject =
      operations.length > 0
        ? fitted(drawMask(operations, { x: 0, y: 0, width: frame.width, height: frame.height }, scale), luma)
        : null;
    return proposeProbes(luma, subject, head && fitted(head, luma)).map(({ kind, x, y }) => ({
      kind,
      x: Math.round((x + 0.5) / scale - 0.5),
      y: Math.round((y + 0.5) / scale - 0.5),
    }));
  },

  async makeArea({ frame, mode, wish }) {
    // With them comes what tells a subject.
    await kernels;
    const coverage = makeArea(await pictureOf(frame, sideFor(wish)), frame, wish);
    return areaOperation(coverage, frame, mode, originOf(wish));
  },

  async lookAhead(frame) {
    await kernels;
    const picture = await pictureOf(frame, MOST_AREA_SIDE);
    prepareSubject(picture);
    // Whatever was asked for meanwhile comes first.
    await new Promise((resolve) => setTimeout(resolve));
    subjectArea(picture, []);
  },

  async pickColour({ frame, x, y }) {
    const picture = await pictureOf(frame, MOST_AREA_SIDE / 2);
    const scale = picture[0].width / frame.width;
    const placed = (value: number) => Math.round((value + 0.5) * scale - 0.5);
    return colourAt(picture, placed(x), placed(y));
  },

  async judgeFacePart(job) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const { frame, prescription, part, face } = job;
    const source = { frame, space: await spaceOf(frame) };
    const work = workOf(frame, 'final', await kernels);
    const region = regionOfPart(part, prescription, frame);
    const { before, after } = await faceOver(source, job, region, work);
    return auditFacePart(source, prescription, part, face, region, before, after, work);
  },

  async strongestSafe({ frame, prescription, places }) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const source = { frame, space: await spaceOf(frame) };
    const work = workOf(frame, 'final', await kernels);
    const full = atFullAmount(prescription);
    const tiles = await Promise.all(
      places.map(async (place) => {
        const tile = squareAround(place, frame);
        return { tile, piece: await codesOf(frame, regionNeeded(source, full, tile, work)) };
      }),
    );
    return strongestSafe(source, full, tiles, frame.bits, work);
  },

  async showLight(job) {
    const lit = await litPicture(job, await pictureOf(job.frame, job.side));
    return Comlink.transfer(lit, [lit.bitmap]);
  },

  async showFinished({ frame, prescription, region }) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const guide = needsFrameGuide(prescription) ? await guideOf(frame) : undefined;
    const source = { frame, space: await spaceOf(frame), guide };
    const work = workOf(frame, 'final', await kernels);
    const needed = frameRegionFor(prescription, frame, region);
    const planes = source.space.decode.map(() => createPlane(needed.width, needed.height));
    for (const tile of tilesTouching(needed, frame)) {
      const part = intersect(tile, needed);
      const piece = await codesOf(frame, regionNeeded(source, prescription, tile, work));
      const passed = passThrough(source, prescription, piece, tile, work);
      const own = passed ? cutTo(passed, part) : decodePiece(piece, part, source.space);
      planes.forEach((plane, c) => pastePlane(plane, own[c], placedIn(part, needed)));
    }
    const codes = encodeChannels(pictureOver(planes, prescription, frame, region), source.space);
    const rgba = shownPixels(codes, source.space, source.space.description === 'sRGB');
    const bitmap = await createImageBitmap(new ImageData(rgba, region.width, region.height));
    return Comlink.transfer(bitmap, [bitmap]);
  },

  async judgeFinishing({ frame, prescription, places }) {
    if (!kernels) throw new Error('The worker was not warmed up.');
    const { finishing, corrections } = prescription;
    if (!finishing || places.length === 0) return [];
    const [guide, space] = await Promise.all([guideOf(frame), spaceOf(frame)]);
    const source = { frame, space, guide };
    const before = { ...prescription, finishing: undefined, mends: undefined };
    const work = workOf(frame, 'final', await kernels);
    const judged = await Promise.all(
      places.map(async (place) => {
        const region = squareAround(place, frame);
        const piece = await codesOf(frame, regionNeeded(source, before, region, work));
        const passed = passThrough(source, before, piece, region, work);
        return { region, planes: passed ? cutTo(passed, region) : decodePiece(piece, region, space) };
      }),
    );
    const after = guideAfter(source, corrections && changesLight(corrections) ? corrections : null);
    const line = prescription.reading?.noise[0] ?? QUIET.noise[0];
    return judgeFinishing(judged, finishing, space, after, line);
  },

  automaticLight: automaticOf,
  pointsAtClipping: clippingPoints,
  pickGrey: greyGains,
  measureLens: async (frame) => lensIn(await pictureOf(frame, FRINGE_SIDE)),
  findSource: sourceFor,
};

/** Colour fringes are looked for in a view this long, px. */
const FRINGE_SIDE = 2048;

/** What a render of all that is recovered would take on two cores, from what one tile took with its surroundings. */
function secondsForWhole(
  seconds: number,
  solved: Size,
  source: RenderSource,
  prescription: Prescription,
  work: StageEffort,
): number {
  const px = tilesToRender(prescription, source.frame, source).reduce((sum, tile) => {
    const { width, height } = regionNeeded(source, prescription, tile, work);
    return sum + width * height;
  }, 0);
  return (seconds * px) / (solved.width * solved.height) / 2;
}

/** Side of the squares in which a strongest safe amount is judged, px. */
const SAFEST_SIDE = 160;

function squareAround({ x, y }: { x: number; y: number }, frame: Size): Region {
  const [width, height] = [Math.min(SAFEST_SIDE, frame.width), Math.min(SAFEST_SIDE, frame.height)];
  const within = (middle: number, length: number, most: number) =>
    Math.max(0, Math.min(most - length, Math.round(middle - length / 2)));
  return { x: within(x, width, frame.width), y: within(y, height, frame.height), width, height };
}

const workOf = (
  frame: WorkerFrame,
  effort: 'draft' | 'final',
  loaded: Kernels,
  onSolve: () => void = () => undefined,
): StageEffort => ({
  ...(effort === 'draft' ? DRAFT_EFFORT : FINAL_EFFORT),
  kernels: loaded,
  remembered: (key, solve) =>
    solvedTiles.of(`${frame.id} ${key}`, () => {
      onSolve();
      return solve();
    }),
});

/** A region as it was taken and as the trial, or the outside version, has it at full strength; linear sRGB. */
async function faceOver(
  source: RenderSource,
  { frame, prescription, version }: FacePartJob,
  region: Region,
  work: StageEffort,
): Promise<{ before: Channels; after: Channels }> {
  const blank = () => source.space.decode.map(() => createPlane(region.width, region.height));
  const [before, after] = [blank(), blank()];
  for (const tile of tilesTouching(region, frame)) {
    const part = intersect(tile, region);
    const piece = await codesOf(frame, regionNeeded(source, prescription, tile, work));
    const taken = decodePiece(piece, part, source.space);
    // Held against the frame as taken: in its light both would have to stand.
    const passed = version ? null : passThrough(source, recoveredOnly(prescription), piece, tile, work);
    const full = version
      ? decodePiece(await versionCodesOf(frame, version.id, part), part, source.space)
      : passed
        ? atFullStrength(passed, part)
        : taken;
    const at = { x: part.x - region.x, y: part.y - region.y };
    before.forEach((plane, c) => pastePlane(plane, taken[c], at));
    after.forEach((plane, c) => pastePlane(plane, full[c], at));
  }
  return { before: asLinearSrgb(before, source.space), after: asLinearSrgb(after, source.space) };
}

/** A tile of an outside version, judged as our own are. */
async function showVersion(
  source: RenderSource,
  { reading }: Prescription,
  { id, width, height, placement }: JobVersion,
  tile: Region,
  frame: WorkerFrame,
  loaded: Kernels,
): Promise<ShownTile> {
  const wide = grow(tile, VERSION_MARGIN);
  const original = await codesOf(frame, wide);
  const version = await versionCodesOf(frame, id, wide);
  const covered = coveredBy({ width, height }, placement, wide, wide.x, wide.y);
  const effort = { ...FINAL_EFFORT, kernels: loaded };
  const audit = auditVersion(source, reading, original, version, tile, covered, frame.bits, effort);
  const { codes } = encodeTile(source, version, tile, null);
  const rgba = shownPixels(codes, source.space, source.space.description === 'sRGB');
  return Comlink.transfer({ width: tile.width, height: tile.height, rgba, audit, check: null }, [rgba.buffer]);
}

/** A tile as cleaned or what was removed from it, and whether that is noise. */
async function showCleaned(
  source: RenderSource,
  prescription: Prescription,
  tile: Region,
  frame: WorkerFrame,
  removed: boolean,
  loaded: Kernels,
): Promise<ShownTile> {
  const { space } = source;
  const seen = regionNeeded(source, prescription, checkedAround(tile), { ...FINAL_EFFORT, kernels: loaded });
  const piece = await codesOf(frame, seen);
  const { original, cleaned, check } = cleanTile(source, prescription, piece, tile, loaded);
  const rgba = removed
    ? removedPixels(original, cleaned, frame.channels)
    : shownPixels(cleaned, space, space.description === 'sRGB');
  return Comlink.transfer({ width: tile.width, height: tile.height, rgba, audit: null, check }, [rgba.buffer]);
}

/** The last whole frames looked at: a range is often asked for again while its handles move. */
const pictures = new LastUsed<string, Promise<Channels>>(4);

/** The whole frame in linear sRGB, its long side at most `side`. */
function pictureOf(frame: WorkerFrame, side: number): Promise<Channels> {
  return remembered(pictures, `${frame.id} ${side}`, async () => {
    const { data, width, height } = await viewOf(frame, side);
    return linearOf(data, { width, height });
  });
}

/** The frame as the page shows it, its long side at most `side`. */
async function viewOf(frame: WorkerFrame, side: number): Promise<ImageData> {
  const response = await fetch(`/api/frames/${frame.id}/view.jpg?side=${side}`);
  if (!response.ok) throw new Error(`The server answered ${response.status} for the frame's view.`);
  const bitmap = await createImageBitmap(await response.blob());
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d')!;
  context.drawImage(bitmap, 0, 0);
  return context.getImageData(0, 0, bitmap.width, bitmap.height);
}

const SMALL_SIDE = 1080;

/** The frame as the page shows it, encoded luma 0..1. */
async function smallLuma(frame: WorkerFrame): Promise<Plane> {
  const { data, width, height } = await viewOf(frame, SMALL_SIDE);
  const luma = createPlane(width, height);
  const [red, green, blue] = REC709_WEIGHTS;
  for (let i = 0; i < luma.data.length; i++) {
    luma.data[i] = (red * data[4 * i] + green * data[4 * i + 1] + blue * data[4 * i + 2]) / 255;
  }
  return luma;
}

/** The same plane at another's size; rounding may have made it a sample larger or smaller. */
function fitted(plane: Plane, { width, height }: Plane): Plane {
  return plane.width === width && plane.height === height ? plane : cropPlane(plane, { x: 0, y: 0, width, height });
}

Comlink.expose(api);
