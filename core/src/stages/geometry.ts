import { CoreError } from '../errors';
import { cropPlane } from '../picture/crop';
import { createPlane, type Plane } from '../picture/plane';
import { intersect, isEmpty, wholeOf, type Region, type Size } from '../picture/region';
import type { Geometry } from '../prescription/prescription';
import type { PictureStage } from './stage';

/** Which part of the frame the finished picture shows, and which way up. Px are moved, never resampled. */
export const geometryStage: PictureStage<Geometry> = {
  name: 'geometry',

  settingsOf: ({ geometry }) => (geometry && (geometry.crop || geometry.quarterTurns > 0) ? geometry : null),

  sizeAfter(settings, before) {
    const { width, height } = croppedTo(settings, before);
    return settings.quarterTurns % 2 === 0 ? { width, height } : { width: height, height: width };
  },

  regionNeeded(settings, { x, y, width, height }, before) {
    const crop = croppedTo(settings, before);
    switch (settings.quarterTurns) {
      case 0:
        return { x: crop.x + x, y: crop.y + y, width, height };
      case 1:
        return { x: crop.x + y, y: crop.y + crop.height - x - width, width: height, height: width };
      case 2:
        return { x: crop.x + crop.width - x - width, y: crop.y + crop.height - y - height, width, height };
      case 3:
        return { x: crop.x + crop.width - y - height, y: crop.y + x, width: height, height: width };
    }
  },

  apply: (planes, { quarterTurns }) => planes.map((plane) => turned(plane, quarterTurns)),
};

/** @throws CoreError CROP_OUTSIDE where nothing of the frame is left. */
function croppedTo({ crop }: Geometry, before: Size): Region {
  const kept = intersect(crop ?? wholeOf(before), wholeOf(before));
  if (isEmpty(kept)) throw new CoreError('CROP_OUTSIDE', 'The crop lies outside the frame: nothing would be left.');
  return kept;
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
