/** A camera as the thin-lens formulas see it; all lengths in mm. */
export interface Lens {
  readonly focalLengthMm: number;
  /** f-number. */
  readonly aperture: number;
  readonly pixelPitchMm: number;
}

/**
 * Diameter on the sensor of the circle that a point becomes, mm: c = A·|d − s|/d · f/(s − f), A = f/N the entrance
 * pupil.
 *
 * @param focusedMm - Distance at which the lens is focused, beyond the focal length.
 * @param subjectMm - Distance of the point.
 * Source: e.g. Ray, "Applied Photographic Optics", 3rd ed. (from memory).
 */
export function circleOfConfusion(
  { focalLengthMm: f, aperture }: Pick<Lens, 'focalLengthMm' | 'aperture'>,
  focusedMm: number,
  subjectMm: number,
): number {
  return ((f / aperture) * (Math.abs(subjectMm - focusedMm) / subjectMm) * f) / (focusedMm - f);
}

/** The same in px. */
export const focusBlurPx = (lens: Lens, focusedMm: number, subjectMm: number): number =>
  circleOfConfusion(lens, focusedMm, subjectMm) / lens.pixelPitchMm;

/**
 * Nearest and farthest distance at which a point becomes no larger than `circleMm`; the farthest may be Infinity.
 * H = f²/(N·c) + f; near s(H − f)/(H + s − 2f), far s(H − f)/(H − s).
 */
export function depthOfField(
  { focalLengthMm: f, aperture }: Pick<Lens, 'focalLengthMm' | 'aperture'>,
  focusedMm: number,
  circleMm: number,
): { readonly nearMm: number; readonly farMm: number; readonly hyperfocalMm: number } {
  const hyperfocalMm = (f * f) / (aperture * circleMm) + f;
  const nearMm = (focusedMm * (hyperfocalMm - f)) / (hyperfocalMm + focusedMm - 2 * f);
  const farMm = focusedMm >= hyperfocalMm ? Infinity : (focusedMm * (hyperfocalMm - f)) / (hyperfocalMm - focusedMm);
  return { nearMm, farMm, hyperfocalMm };
}

/** Px that something crosses while the shutter is open: v·t, imaged at f/(d − f). */
export const movementPx = (
  { focalLengthMm: f, pixelPitchMm }: Pick<Lens, 'focalLengthMm' | 'pixelPitchMm'>,
  metresPerSecond: number,
  seconds: number,
  subjectMm: number,
): number => (1000 * metresPerSecond * seconds * f) / (subjectMm - f) / pixelPitchMm;

/** What a hand moves while the shutter is open for the reciprocal of the focal length: common practice, no source. */
const HAND_MM = 0.03;

/** Px that a steady hand shakes: by the rule of the reciprocal focal length. */
export const handShakePx = (
  { focalLengthMm, pixelPitchMm }: Pick<Lens, 'focalLengthMm' | 'pixelPitchMm'>,
  seconds: number,
): number => (HAND_MM * seconds * focalLengthMm) / pixelPitchMm;
