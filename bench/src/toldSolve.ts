import {
  acceptReading,
  automaticCleaning,
  automaticRecovery,
  colourSpaceOf,
  cropPlane,
  emptyPrescription,
  encodeChannels,
  filledPlane,
  FINAL_EFFORT,
  placedIn,
  solveTile,
  takeReading,
  wholeOf,
  type Kernels,
  type NoiseLine,
  type Plane,
  WEAKER_GUARD,
  WEAKER_ITERATIONS,
} from '@vitrocept/core';

export interface ToldSolve {
  /** What the recovery was given: the photograph, cleaned where that was asked for. */
  readonly seen: readonly Plane[];
  readonly present: readonly Plane[];
  readonly weak: readonly Plane[];
  readonly noise: readonly NoiseLine[];
  readonly guard: number;
  readonly floor: readonly number[];
}

/** The solver's answer to a told blur, and the same with a weaker prior, both without learned texture; linear light. */
export function solveTold(
  degraded: readonly Plane[],
  psf: Plane,
  kernels: Kernels,
  { jpeg = false, cleaned = false } = {},
): ToldSolve {
  const space = colourSpaceOf(null, 3);
  const frame = { width: degraded[0].width, height: degraded[0].height };
  const whole = wholeOf(frame);
  const reading = takeReading({
    channels: [...degraded],
    lumaWeights: space.lumaWeights,
    use: filledPlane(frame.width, frame.height, 1),
    clipped: new Uint8Array(frame.width * frame.height),
    jpeg,
    kernels,
    psf,
  });
  const accepted = acceptReading(reading, { kind: 'mask', key: '' });
  const cleaning = cleaned ? automaticCleaning(accepted) : null;
  const automatic = automaticRecovery('camera-shake', accepted, 100, cleaning);
  const recovery = { ...automatic, learnedTexture: false, haloLimitPercent: null, trialId: null };
  const piece = { region: whole, channels: 3 as const, codes: encodeChannels([...degraded], space) };
  const solved = (guard: number, iterations: number) => {
    const noiseGuard = { ...recovery.noiseGuard, value: guard };
    const plan = { ...emptyPrescription(), reading: accepted, cleaning, recovery: { ...recovery, noiseGuard } };
    const { wide, base, layers } = solveTile({ frame, space, psf }, plan, piece, whole, { iterations, kernels })!;
    const inside = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, placedIn(whole, wide)));
    return { seen: inside(base), answer: inside(layers[0].recovered.answer) };
  };
  const guard = recovery.noiseGuard.value;
  const { seen, answer: present } = solved(guard, FINAL_EFFORT.iterations);
  const { answer: weak } = solved(guard - WEAKER_GUARD, WEAKER_ITERATIONS);
  const { noise, floor } = reading;
  return { seen, present, weak, noise, guard, floor };
}
