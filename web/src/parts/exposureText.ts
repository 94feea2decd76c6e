import type { FrameSummary } from '@vitrocept/server';

/** Shutter, aperture, focal length, lens and date as far as the file says them. */
export function exposureText({ shutterS, fNumber, focalLengthMm, lens, takenAt }: FrameSummary['exposure']): string {
  const shutter =
    shutterS === null ? null : shutterS >= 0.4 ? `${shutterS.toFixed(1)} s` : `1/${Math.round(1 / shutterS)} s`;
  return [
    shutter,
    fNumber === null ? null : `f/${fNumber}`,
    focalLengthMm === null ? null : `${focalLengthMm} mm`,
    lens,
    takenAt,
  ]
    .filter((part) => part !== null)
    .join(' · ');
}
