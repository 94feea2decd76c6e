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
  fromOpponent,
  placedIn,
  solveTile,
  takeReading,
  wholeOf,
  type Kernels,
  type NoiseLine,
  type Plane,
  type Stack,
} from '@vitrocept/core';

export interface ToldSolve {
  /** What the recovery was given: the photograph, cleaned where that was asked for. */
  readonly seen: readonly Plane[];
  readonly present: readonly Plane[];
  readonly weak: readonly Plane[];
  readonly noise: readonly NoiseLine[];
  readonly guard: number;
  readonly floor: readonly number[];
  /** JPEG or a mosaic took the finest noise away. */
  readonly hidesNoise: boolean;
}

/**
 * The solver's answer to a told blur, and the same with the brightness that the weaker prior gave, both without learned
 * texture; linear light.
 */
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
  const recovery = { ...automatic, learnedTexture: true, haloLimitPercent: null, trialId: null };
  const piece = { region: whole, channels: 3 as const, codes: encodeChannels([...degraded], space) };
  const plan = { ...emptyPrescription(), reading: accepted, cleaning, recovery };
  const { answers, watched } = watching(kernels);
  const effort = { ...FINAL_EFFORT, kernels: watched };
  const { wide, base, layers } = solveTile({ frame, space, psf }, plan, piece, whole, effort)!;
  const inside = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, placedIn(whole, wide)));
  const [own, weaker] = answers.map((components) => inside(components));
  const { noise, floor, hidesNoise } = reading;
  return {
    seen: inside(base),
    present: inside(layers[0].recovered.answer),
    weak: fromOpponent([weaker[0], ...own.slice(1)]),
    noise,
    guard: recovery.noiseGuard.value,
    floor,
    hidesNoise,
  };
}

/** Kernels whose network says nothing and that keep what the solver answered, component by component. */
function watching(kernels: Kernels) {
  const answers: Plane[][] = [];
  const runNetwork = ({ width, height }: Stack) => {
    const channels = 12;
    return { width, height, channels, data: new Float32Array(channels * width * height) };
  };
  const deconvolve: Kernels['deconvolve'] = (...asked) => {
    const answer = kernels.deconvolve(...asked);
    answers.push(answer);
    return answer;
  };
  return { answers, watched: { ...kernels, runNetwork, deconvolve } };
}
