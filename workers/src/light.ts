import {
  automaticLight,
  changesLight,
  changesLook,
  correctLight,
  cropPlane,
  decodePiece,
  drawMask,
  findSource,
  finishLook,
  geometryStage,
  guideAfter,
  LastUsed,
  mendStage,
  lumaOf,
  measureDistortion,
  measureFallOff,
  measureFringe,
  needsGuide,
  neutralCorrections,
  neutralGains,
  placedIn,
  pointsAtClipping,
  REC709_WEIGHTS,
  regionOfSearch,
  resized,
  sizeWithin,
  vignetteStage,
  wholeOf,
  type Channels,
  type ColourSpace,
  type Plane,
  type FrameGuide,
  type Prescription,
  type Size,
} from '@vitrocept/core';
import { codesOf, guideOf, spaceOf } from './frameSamples';
import type { AutomaticJob, ColourJob, LensMeasured, LightJob, LitPicture, MendJob, WorkerFrame } from './protocol';
import { clippingHatched, shownCode, shownLinear } from './shown';

/** What the page shows is linear sRGB. */
const SHOWN: Pick<ColourSpace, 'lumaWeights' | 'toLinearSrgb'> = {
  lumaWeights: REC709_WEIGHTS,
  toLinearSrgb: [1, 0, 0, 0, 1, 0, 0, 0, 1],
};
/** Two codes of what is shown make a step. */
const COUNT_STEPS = 128;
/** So much of a picture is counted, evenly spread. */
const COUNT_EVERY = 3;

/** Small pictures of the last frames, as guides for what is shown small itself. */
const shownGuides = new LastUsed<string, FrameGuide>(4);

function shownGuideOf(frame: WorkerFrame, picture: Channels): FrameGuide {
  const side = Math.min(GUIDE_OF_VIEW, Math.max(picture[0].width, picture[0].height));
  return shownGuides.of(`${frame.id} ${side}`, () => {
    const { width, height } = sizeWithin(frame, side);
    return { frame, channels: picture.map((plane) => resized(plane, width, height)) };
  });
}

/** Long side of the guide that is made from a view, px; of a smaller view its own. */
const GUIDE_OF_VIEW = 512;

/** Small pictures of the last frames at half their size. */
const halves = new LastUsed<string, Channels>(2);

/** @param whole - The frame in linear sRGB, small. */
export async function litPicture(job: LightJob, whole: Channels): Promise<LitPicture> {
  const { width, height } = whole[0];
  const halved = () => whole.map((plane) => resized(plane, Math.ceil(width / 2), Math.ceil(height / 2)));
  const picture = job.isDraft ? halves.of(`${job.frame.id} ${width}`, halved) : whole;
  const { frame, prescription, isFramed, marksClipping } = job;
  const { corrections, finishing, mends = [] } = prescription;
  const scale = picture[0].width / frame.width;
  const extent = { region: wholeOf(frame), scale };
  const guide = shownGuideOf(frame, picture);
  const source = { guide, space: SHOWN as ColourSpace, frame };
  const light = corrections && changesLight(corrections) ? corrections : null;
  let shown: Channels = mends.length > 0 ? mendedSmall(picture, mends, scale) : picture;
  if (light) shown = correctLight(shown, light, SHOWN, frame, extent, guide);
  if (finishing && changesLook(finishing)) {
    const after = needsGuide(finishing) ? guideAfter(source, light) : guide;
    shown = finishLook(shown, finishing, SHOWN, extent, after).planes;
  }
  const counts = countsOf(shown);
  if (isFramed) shown = framedSmall(shown, prescription, scale);
  const size = { width: shown[0].width, height: shown[0].height };
  const pixels = shownLinear(shown);
  if (marksClipping) clippingHatched(pixels, shown);
  const bitmap = await createImageBitmap(new ImageData(pixels, size.width, size.height));
  return { ...size, bitmap, counts };
}

/** The crop of a picture that is shown smaller than it is. */
function framedSmall(shown: Channels, prescription: Prescription, scale: number): Channels {
  const whole = { width: shown[0].width, height: shown[0].height };
  const settings = geometryStage.settingsOf(prescription);
  let planes = shown;
  let size: Size = whole;
  if (settings) {
    const { crop } = settings;
    const small = crop && {
      x: Math.round(crop.x * scale),
      y: Math.round(crop.y * scale),
      width: Math.max(1, Math.round(crop.width * scale)),
      height: Math.max(1, Math.round(crop.height * scale)),
    };
    const scaled = { ...settings, crop: small, enlarge: 1 };
    size = geometryStage.sizeAfter(scaled, whole);
    const needed = geometryStage.regionNeeded(scaled, wholeOf(size), whole);
    planes = geometryStage.apply(
      planes.map((plane) => cropPlane(plane, needed)),
      scaled,
      wholeOf(size),
      whole,
    );
  }
  const vignette = vignetteStage.settingsOf(prescription);
  return vignette ? vignetteStage.apply(planes, vignette, wholeOf(size), size) : planes;
}

function mendedSmall(picture: Channels, mends: NonNullable<Prescription['mends']>, scale: number): Channels {
  const small = mends.map((mend) => ({
    ...mend,
    stroke: {
      points: mend.stroke.points.map((value) => (value + 0.5) * scale - 0.5),
      sizePx: Math.max(1.5, mend.stroke.sizePx * scale),
    },
    dx: mend.dx * scale,
    dy: mend.dy * scale,
  }));
  const whole = wholeOf(picture[0]);
  const needed = mendStage.regionNeeded(small, whole, null!, null!);
  const wide = picture.map((plane) => cropPlane(plane, needed));
  const { planes } = mendStage.apply({ region: needed, planes: wide, touched: null }, small, whole, null!);
  return planes.map((plane) => cropPlane(plane, placedIn(whole, needed)));
}

function countsOf(channels: Channels): number[][] {
  return channels.map(({ data }) => {
    const counts = new Array<number>(COUNT_STEPS).fill(0);
    for (let i = 0; i < data.length; i += COUNT_EVERY) counts[shownCode(data[i]) >> 1]++;
    return counts;
  });
}

/** Half side of the square whose mean is taken for grey, px. */
const GREY_REACH = 2;

export async function greyGains({ frame, x, y }: ColourJob): Promise<readonly number[] | null> {
  const space = await spaceOf(frame);
  const side = 2 * GREY_REACH + 1;
  const within = (value: number, most: number) => Math.max(0, Math.min(most - side, Math.round(value) - GREY_REACH));
  const region = { x: within(x, frame.width), y: within(y, frame.height), width: side, height: side };
  const planes = decodePiece(await codesOf(frame, region), region, space);
  if (planes.length !== 3) return null;
  const mean = planes.map(({ data }) => data.reduce((sum, value) => sum + value, 0) / data.length);
  return neutralGains(mean, space.lumaWeights);
}

export async function automaticOf({ frame, prescription }: AutomaticJob) {
  const [guide, space] = await Promise.all([guideOf(frame), spaceOf(frame)]);
  const { operations } = prescription.mask;
  const small = guide.channels[0];
  // Drawn it may be a sample larger or smaller than the guide, by rounding.
  const subject =
    operations.length > 0
      ? cropPlane(drawMask(operations, wholeOf(frame), small.width / frame.width), wholeOf(small))
      : null;
  return automaticLight(guide, prescription.corrections, space, subject);
}

export async function clippingPoints({ frame, prescription }: AutomaticJob) {
  const [guide, space] = await Promise.all([guideOf(frame), spaceOf(frame)]);
  return pointsAtClipping(guide, prescription.corrections ?? neutralCorrections(), space);
}

/** Long sides at which the lens is measured, px: larger says the same, later. */
const FALL_OFF_SIDE = 1000;
const LINES_SIDE = 1600;

/** @param picture - The whole frame, as large as fringes need it. */
export function lensIn(picture: Channels): LensMeasured {
  const luma = lumaOf(picture, picture.length === 3 ? SHOWN.lumaWeights : [1]);
  const [red, green, blue] = picture;
  return {
    fallOff: measureFallOff(withLongSide(luma, FALL_OFF_SIDE)),
    distortion: measureDistortion(withLongSide(luma, LINES_SIDE)),
    fringes: blue ? { red: measureFringe(red, green), blue: measureFringe(blue, green) } : null,
  };
}

function withLongSide(plane: Plane, side: number): Plane {
  const share = side / Math.max(plane.width, plane.height);
  return share >= 1 ? plane : resized(plane, Math.round(share * plane.width), Math.round(share * plane.height));
}

export async function sourceFor({ frame, stroke, avoid }: MendJob) {
  const region = regionOfSearch(stroke, frame);
  const planes = decodePiece(await codesOf(frame, region), region, await spaceOf(frame));
  const roots = planes.map((plane) => ({ ...plane, data: plane.data.map((value) => Math.sqrt(Math.max(0, value))) }));
  return findSource(roots, region, stroke, avoid);
}
