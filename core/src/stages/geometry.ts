import { ENLARGE_REACH, enlargedAxis, type AxisMap } from '../correct/enlarge';
import { insideShare, toFrame, type Levelling } from '../correct/level';
import { CoreError } from '../errors';
import { cropPlane } from '../picture/crop';
import { LANCZOS_REACH, lanczosAt } from '../picture/lanczos';
import { onGrid } from '../picture/onGrid';
import { createPlane, type Plane } from '../picture/plane';
import { grow, intersect, isEmpty, placedIn, wholeOf, type Region, type Size } from '../picture/region';
import { movesPixels } from '../prescription/corrections';
import type { Geometry, Prescription } from '../prescription/prescription';
import type { PictureStage } from './stage';

/**
 * Which part of the frame the finished picture shows, which way up, how large, and what of the lens is straightened.
 */
export interface GeometrySettings {
  readonly crop: Geometry['crop'];
  readonly quarterTurns: Geometry['quarterTurns'];
  readonly straightenDeg: number;
  readonly isMirrored: boolean;
  readonly enlarge: number;
  readonly distortionPercent: number;
  /** Of every channel: how many times larger than the green one it is. */
  readonly channelScales: readonly [number, number, number];
}

/**
 * All that moves pixels is joined into one map, so that nothing is resampled twice: Lanczos with three lobes, in linear
 * light. Where only whole px move they are moved as they are.
 */
export const geometryStage: PictureStage<GeometrySettings> = {
  name: 'geometry',

  settingsOf(prescription) {
    const settings = settingsFrom(prescription);
    const { crop, quarterTurns, isMirrored } = settings;
    return crop || quarterTurns > 0 || isMirrored || !movesWholePixels(settings) ? settings : null;
  },

  sizeAfter(settings, before) {
    const { width, height } = scaledSize(settings, before);
    return settings.quarterTurns % 2 === 0 ? { width, height } : { width: height, height: width };
  },

  regionNeeded(settings, wanted, before) {
    const upright = unturned(settings, wanted, scaledSize(settings, before));
    if (movesWholePixels(settings)) {
      const crop = croppedTo(settings, before);
      return { ...upright, x: crop.x + upright.x, y: crop.y + upright.y };
    }
    return neededFor(settings, upright, before);
  },

  apply(planes, settings, wanted, before) {
    const upright = unturned(settings, wanted, scaledSize(settings, before));
    const own = movesWholePixels(settings) ? planes : resampled(planes, settings, upright, before);
    return own.map((plane) => {
      const up = turned(plane, settings.quarterTurns);
      return settings.isMirrored ? mirrored(up) : up;
    });
  },
};

function settingsFrom({ geometry, corrections }: Pick<Prescription, 'geometry' | 'corrections'>): GeometrySettings {
  const lens = corrections && movesPixels(corrections) ? corrections : null;
  return {
    crop: geometry?.crop ?? null,
    quarterTurns: geometry?.quarterTurns ?? 0,
    straightenDeg: geometry?.straightenDeg ?? 0,
    isMirrored: geometry?.isMirrored ?? false,
    enlarge: geometry?.enlarge ?? 1,
    distortionPercent: lens?.distortionPercent.value ?? 0,
    channelScales: [1 + (lens?.redFringePercent.value ?? 0) / 100, 1, 1 + (lens?.blueFringePercent.value ?? 0) / 100],
  };
}

/** What the level picture is cropped from, of a prescription. */
export function levellingOf(prescription: Prescription, frame: Size): Levelling {
  const { straightenDeg, distortionPercent } = settingsFrom(prescription);
  return { frame, straightenDeg, distortionPercent };
}

/** The part of the level picture that is shown; px. */
export const cropOf = (prescription: Prescription, frame: Size): Region => croppedTo(settingsFrom(prescription), frame);

const isLevel = ({ straightenDeg, distortionPercent }: GeometrySettings): boolean =>
  straightenDeg === 0 && distortionPercent === 0;

const movesWholePixels = (settings: GeometrySettings): boolean =>
  isLevel(settings) && settings.enlarge === 1 && settings.channelScales.every((scale) => scale === 1);

/** @throws CoreError CROP_OUTSIDE where nothing of the frame is left. */
function croppedTo(settings: GeometrySettings, before: Size): Region {
  const { crop } = settings;
  if (!crop && !isLevel(settings)) return insideOf(settings, before);
  const kept = intersect(crop ?? wholeOf(before), wholeOf(before));
  if (isEmpty(kept)) throw new CoreError('CROP_OUTSIDE', 'The crop lies outside the frame: nothing would be left.');
  return kept;
}

/** The largest rectangle of the frame's own shape that shows nothing from outside it. */
function insideOf({ straightenDeg, distortionPercent }: GeometrySettings, frame: Size): Region {
  const share = insideShare({ frame, straightenDeg, distortionPercent });
  const width = Math.max(1, Math.floor(frame.width * share));
  const height = Math.max(1, Math.floor(frame.height * share));
  return { x: Math.round((frame.width - width) / 2), y: Math.round((frame.height - height) / 2), width, height };
}

/** Of the crop, enlarged, not turned. */
function scaledSize(settings: GeometrySettings, before: Size): Size {
  const { width, height } = croppedTo(settings, before);
  return {
    width: Math.max(1, Math.round(width * settings.enlarge)),
    height: Math.max(1, Math.round(height * settings.enlarge)),
  };
}

/** Where a region of the finished picture lies before it is turned and mirrored. */
function unturned(
  { quarterTurns, isMirrored }: GeometrySettings,
  { x: left, y, width, height }: Region,
  scaled: Size,
): Region {
  const across = quarterTurns % 2 === 0 ? scaled.width : scaled.height;
  const x = isMirrored ? across - left - width : left;
  switch (quarterTurns) {
    case 0:
      return { x, y, width, height };
    case 1:
      return { x: y, y: scaled.height - x - width, width: height, height: width };
    case 2:
      return { x: scaled.width - x - width, y: scaled.height - y - height, width, height };
    case 3:
      return { x: scaled.width - y - height, y: x, width: height, height: width };
  }
}

/** A px of the enlarged crop in the level picture: slope · index + offset along each axis. */
function levelMap(settings: GeometrySettings, before: Size) {
  const crop = croppedTo(settings, before);
  const scaled = scaledSize(settings, before);
  const [sx, sy] = [crop.width / scaled.width, crop.height / scaled.height];
  return {
    across: { slope: sx, offset: crop.x + 0.5 * sx - 0.5 },
    down: { slope: sy, offset: crop.y + 0.5 * sy - 0.5 },
  };
}

/** Places along each side of a region that are asked where they lie. */
const ASKED = 17;

const projects = (settings: GeometrySettings): boolean => settings.enlarge > 1 && isLevel(settings);

function neededFor(settings: GeometrySettings, wanted: Region, before: Size): Region {
  const { across, down } = levelMap(settings, before);
  const levelling = { ...settings, frame: before };
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < ASKED; i++) {
    for (let j = 0; j < ASKED; j++) {
      const x = across.slope * (wanted.x + (i / (ASKED - 1)) * (wanted.width - 1)) + across.offset;
      const y = down.slope * (wanted.y + (j / (ASKED - 1)) * (wanted.height - 1)) + down.offset;
      const at = toFrame(levelling, { x, y });
      [left, top] = [Math.min(left, at.x), Math.min(top, at.y)];
      [right, bottom] = [Math.max(right, at.x), Math.max(bottom, at.y)];
    }
  }
  const fringe = Math.max(...settings.channelScales.map((scale) => Math.abs(scale - 1)));
  const margin =
    LANCZOS_REACH +
    1 +
    Math.ceil((fringe * Math.hypot(before.width, before.height)) / 2) +
    (isLevel(settings) ? 0 : 1) +
    (projects(settings) ? ENLARGE_REACH : 0);
  const [x, y] = [Math.floor(left), Math.floor(top)];
  const around = grow({ x, y, width: Math.ceil(right) + 1 - x, height: Math.ceil(bottom) + 1 - y }, margin);
  const inside = intersect(around, wholeOf(before));
  // A crop may look beyond the frame's border, which then goes on: one px of it is enough.
  if (!isEmpty(inside)) return inside;
  const within = (value: number, most: number) => Math.max(0, Math.min(most - 1, value));
  return { x: within(x, before.width), y: within(y, before.height), width: 1, height: 1 };
}

/** `wanted` of the enlarged crop, not yet turned. */
function resampled(planes: readonly Plane[], settings: GeometrySettings, wanted: Region, before: Size): Plane[] {
  const from = neededFor(settings, wanted, before);
  const { across, down } = levelMap(settings, before);
  const middle = { x: (before.width - 1) / 2, y: (before.height - 1) / 2 };
  const scaleOf = (c: number) => (planes.length === 1 ? 1 : settings.channelScales[c]);
  if (!isLevel(settings)) return planes.map((plane, c) => freely(plane, settings, wanted, before, from, scaleOf(c)));
  // Held against the original a place depends on what lies around it: that much more is made, and cut off.
  const margin = projects(settings) ? Math.ceil(ENLARGE_REACH * settings.enlarge) : 0;
  const wide = grow(wanted, margin);
  const axesOf = (scale: number) => {
    const axis = ({ slope, offset }: AxisMap, start: number, centre: number, own: number) => ({
      slope: slope * scale,
      offset: centre + (slope * start + offset - centre) * scale - own,
    });
    const columns = axis(across, wide.x, middle.x, from.x);
    const rows = axis(down, wide.y, middle.y, from.y);
    return {
      across: enlargedAxis(from.width, wide.width, columns, projects(settings)),
      down: enlargedAxis(from.height, wide.height, rows, projects(settings)),
    };
  };
  const axes = new Map([...new Set(planes.map((_, c) => scaleOf(c)))].map((scale) => [scale, axesOf(scale)]));
  return planes.map((plane, c) => {
    const own = axes.get(scaleOf(c))!;
    const drawn = onGrid(plane, own.across, own.down);
    return margin > 0 ? cropPlane(drawn, placedIn(wanted, wide)) : drawn;
  });
}

/** Turned or bent: every px is looked for by itself. */
function freely(
  plane: Plane,
  settings: GeometrySettings,
  wanted: Region,
  before: Size,
  from: Region,
  scale: number,
): Plane {
  const { across, down } = levelMap(settings, before);
  const [mx, my] = [(before.width - 1) / 2, (before.height - 1) / 2];
  const angle = (-settings.straightenDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const bend = settings.distortionPercent / 100 / ((before.width ** 2 + before.height ** 2) / 4);
  const out = createPlane(wanted.width, wanted.height);
  for (let row = 0, i = 0; row < wanted.height; row++) {
    const v = down.slope * (wanted.y + row) + down.offset - my;
    for (let column = 0; column < wanted.width; column++, i++) {
      const u = across.slope * (wanted.x + column) + across.offset - mx;
      const stretch = scale * (1 + bend * (u * u + v * v));
      out.data[i] = lanczosAt(
        plane,
        mx + stretch * (cos * u - sin * v) - from.x,
        my + stretch * (sin * u + cos * v) - from.y,
      );
    }
  }
  return out;
}

/** Clockwise by so many quarters. */
export function turned(plane: Plane, quarterTurns: Geometry['quarterTurns']): Plane {
  const { width, height, data } = plane;
  if (quarterTurns === 0) return cropPlane(plane, wholeOf(plane));
  const out = quarterTurns === 2 ? createPlane(width, height) : createPlane(height, width);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const [across, down] =
        quarterTurns === 1
          ? [height - 1 - y, x]
          : quarterTurns === 2
            ? [width - 1 - x, height - 1 - y]
            : [y, width - 1 - x];
      out.data[down * out.width + across] = data[i];
    }
  }
  return out;
}

function mirrored({ width, height, data }: Plane): Plane {
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) out.data[y * width + x] = data[y * width + width - 1 - x];
  }
  return out;
}
