import {
  acceptReading,
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
} from '@vitrocept/core';

/** With the prior at an eighth of its weight: what stands in the data and the prior would smooth away, noise and all. */
const WEAK_GUARD = 20;

export interface ToldSolve {
  readonly present: readonly Plane[];
  readonly weak: readonly Plane[];
  readonly noise: readonly NoiseLine[];
  readonly floor: readonly number[];
}

/** The present prior's answer to a told blur, and the same with the prior nearly let go; linear light. */
export function solveTold(degraded: readonly Plane[], psf: Plane, kernels: Kernels): ToldSolve {
  const space = colourSpaceOf(null, 3);
  const frame = { width: degraded[0].width, height: degraded[0].height };
  const whole = wholeOf(frame);
  const reading = takeReading({
    channels: [...degraded],
    lumaWeights: space.lumaWeights,
    use: filledPlane(frame.width, frame.height, 1),
    clipped: new Uint8Array(frame.width * frame.height),
    jpeg: false,
    kernels,
    psf,
  });
  const accepted = acceptReading(reading, { kind: 'mask', key: '' });
  const recovery = { ...automaticRecovery('camera-shake', accepted, 100), haloLimitPercent: null, trialId: null };
  const piece = { region: whole, channels: 3 as const, codes: encodeChannels([...degraded], space) };
  const answer = (guard: number) => {
    const noiseGuard = { ...recovery.noiseGuard, value: guard };
    const plan = { ...emptyPrescription(), reading: accepted, recovery: { ...recovery, noiseGuard } };
    const solved = solveTile({ frame, space, psf }, plan, piece, whole, { ...FINAL_EFFORT, kernels })!;
    return solved.layers[0].recovered.answer.map((plane) => cropPlane(plane, placedIn(whole, solved.wide)));
  };
  const { noise, floor } = reading;
  return { present: answer(recovery.noiseGuard.value), weak: answer(WEAK_GUARD), noise, floor };
}
