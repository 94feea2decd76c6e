import { labOf } from '../picture/cielab';
import { gaussianBlur } from '../picture/gaussianBlur';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';

/** Numbers a sample: colour, and how sharp its place is. */
export const FEATURES = 4;
/** Colour and place: mixtures of these know what is where. */
export const LOCAL_FEATURES = 5;
const PLACES_PER_SIDE = 5;
const DAB_SMOOTHING = 2;

/** Lightness, a and b in tens, and focus: detail over what is usual here. */
export function featuresOf(picture: Channels): Float32Array {
  const [red, green = red, blue = red] = picture;
  const { width, height } = red;
  const light = createPlane(width, height);
  const features = new Float32Array(FEATURES * width * height);
  const smooth = [red, green, blue].map((plane) => gaussianBlur(plane, 0.7).data);
  for (let i = 0; i < light.data.length; i++) {
    const { l, a, b } = labOf(smooth[0][i], smooth[1][i], smooth[2][i]);
    features[FEATURES * i] = l / 12;
    features[FEATURES * i + 1] = a / 8;
    features[FEATURES * i + 2] = b / 8;
    light.data[i] = labOf(red.data[i], green.data[i], blue.data[i]).l / 100;
  }
  const focus = focusOf(light);
  for (let i = 0; i < focus.length; i++) features[FEATURES * i + 3] = focus[i];
  return features;
}

/** ln of fine detail over the frame's median, from 0: how much sharper a place is than the frame is usually. */
function focusOf(light: Plane): Float32Array {
  const around = detailOf(light);
  const usual = Float32Array.from(around).sort()[Math.floor(0.4 * around.length)] + 1e-7;
  return around.map((value) => Math.log((value + usual) / (2 * usual)) / 1.2);
}

/**
 * An edge blurred by σ 1.7 px has this share of its coarser energy (σ 1.4 to 4 px) at the finest scale too; a sharper
 * one more.
 */
const OF_BLUR = 0.1;

/**
 * Mean square of what is finer than σ 1.4 px, over squares of a 65th of the width, less what a blurred edge has of it:
 * a bright blossom out of focus must not count for sharp fur.
 */
export function detailOf(light: Plane): Float32Array {
  const { width, height } = light;
  const coarse = gaussianBlur(light, 1.4);
  const coarser = gaussianBlur(light, 4).data;
  const fine = createPlane(width, height);
  for (let i = 0; i < fine.data.length; i++) {
    fine.data[i] = (light.data[i] - coarse.data[i]) ** 2 - OF_BLUR * (coarse.data[i] - coarser[i]) ** 2;
  }
  return boxMean(fine, Math.max(2, Math.round(width / 130))).data.map((value) => Math.max(0, value));
}

/** Of every sample its colour and its place. */
export function localFeatures(features: Float32Array, width: number): Float32Array {
  const count = features.length / FEATURES;
  const local = new Float32Array(LOCAL_FEATURES * count);
  for (let i = 0; i < count; i++) {
    for (let f = 0; f < 3; f++) local[LOCAL_FEATURES * i + f] = features[FEATURES * i + f];
    local[LOCAL_FEATURES * i + 3] = (PLACES_PER_SIDE * (i % width)) / width;
    local[LOCAL_FEATURES * i + 4] = (PLACES_PER_SIDE * Math.floor(i / width)) / width;
  }
  return local;
}

export function samplesWhere(local: Float32Array, test: (i: number) => boolean): Float32Array {
  const own: number[] = [];
  for (let i = 0; i < local.length / LOCAL_FEATURES; i += 2) {
    if (test(i)) for (let f = 0; f < LOCAL_FEATURES; f++) own.push(local[LOCAL_FEATURES * i + f]);
  }
  return Float32Array.from(own);
}

/** Fur and feathers smoothed away: from a dab one walks over them, but not over the border of a colour. */
export function smoothed(features: Float32Array, width: number, height: number): Float32Array {
  const out = features.slice();
  for (let f = 0; f < 3; f++) {
    const plane = createPlane(width, height);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = features[FEATURES * i + f];
    const smooth = gaussianBlur(plane, DAB_SMOOTHING).data;
    for (let i = 0; i < smooth.length; i++) out[FEATURES * i + f] = smooth[i];
  }
  return out;
}
