import { product } from '../picture/arithmetic';
import { gaussianBlur } from '../picture/gaussianBlur';
import { copyPlane, type Plane } from '../picture/plane';

/** What is too sharp starts as the mean of what is known around it, so that few iterations are enough there. */
export function guessing({ data: sharp }: Plane, known: Plane, sigmaPx: number): (plane: Plane) => Plane {
  const weight = gaussianBlur(known, sigmaPx).data;
  const places = placesWhere(known, (i) => sharp[i] > TOO_SHARP && weight[i] > LEAST_KNOWN);
  return (plane) => {
    const sum = gaussianBlur(product(plane, known), sigmaPx).data;
    const guess = copyPlane(plane);
    for (const i of places) guess.data[i] = sum[i] / weight[i];
    return guess;
  };
}

/** The samples, few among many, that are so. */
export function placesWhere({ data }: Plane, isSo: (i: number) => boolean): number[] {
  const places: number[] = [];
  for (let i = 0; i < data.length; i++) if (isSo(i)) places.push(i);
  return places;
}

/** Of `tooSharpFor`: from here the data are not believed. */
export const TOO_SHARP = 0.3;
const LEAST_KNOWN = 0.01;
