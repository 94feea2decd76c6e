import { CoreError } from '../errors';

/** One channel: row-major samples, pixel centres at integers. Linear light unless a name says `encoded`. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

export function createPlane(width: number, height: number): Plane {
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1) {
    throw new CoreError('PLANE_SIZE', `A plane needs whole sides of at least 1 px, not ${width} × ${height}.`);
  }
  return { width, height, data: new Float32Array(width * height) };
}

export function planeOf(width: number, height: number, values: ArrayLike<number>): Plane {
  const plane = createPlane(width, height);
  if (values.length !== plane.data.length) {
    throw new CoreError(
      'PLANE_SIZE',
      `${width} × ${height} px need ${plane.data.length} values, not ${values.length}.`,
    );
  }
  plane.data.set(values);
  return plane;
}

export function filledPlane(width: number, height: number, value: number): Plane {
  const plane = createPlane(width, height);
  plane.data.fill(value);
  return plane;
}

export function copyPlane(plane: Plane): Plane {
  return { width: plane.width, height: plane.height, data: plane.data.slice() };
}
