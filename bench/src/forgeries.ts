import {
  acceptReading,
  auditMargin,
  auditTile,
  automaticRecovery,
  BlurOver,
  clippedOver,
  colourSpaceOf,
  cropPlane,
  decodePiece,
  emptyPrescription,
  encodeChannels,
  FAKES,
  figuresOver,
  filledPlane,
  FINAL_EFFORT,
  forge,
  grow,
  noiseVariances,
  psfOf,
  reachOf,
  seededRandom,
  recoverySettingsOf,
  solveTile,
  takeReading,
  toOpponent,
  type AcceptedReading,
  type CodePiece,
  type Fake,
  type Kernels,
  type Plane,
  type Prescription,
  type Psf,
  type Region,
  type SolvedTile,
} from '@vitrocept/core';
import sharp from 'sharp';
import type { PracticeCase } from './cases';

export interface JudgedFake {
  readonly fake: Fake;
  readonly strength: number;
  /** Matched-filter signal-to-noise ratio of the re-photographed difference. */
  readonly snr: number;
  /** Level of unproven detail where the map's peak lies inside the fake, else 0. */
  readonly level: number;
}

export interface Judged {
  readonly name: string;
  /** Level of unproven detail of every honest 32 px patch that can be judged. */
  readonly patches: readonly number[];
  readonly fakes: readonly JudgedFake[];
}

/** How the blur is known: given, read from the picture, or read and then made wrong by a tenth. */
export type Knowledge = 'told' | 'estimated' | 'wrong by a tenth';

export const STRENGTHS = [0.5, 1, 2];
const PATCH_PX = 32;
const BORDER_PX = 32;
/** Fakes keep this far from the border, so that their surroundings can be judged. */
const MARGIN_PX = 60;
/** A fake weaker than this against the noise is listed, not counted. */
export const LEAST_SNR = 20;

/**
 * Recovers a practice case, audits it as it is, and then with fakes put into it one by one; null where it reads sharp.
 */
export async function judgeForgeries(
  made: PracticeCase,
  knowledge: Knowledge,
  perKind: number,
  seed: number,
  kernels: Kernels,
): Promise<Judged | null> {
  const space = colourSpaceOf(null, 3);
  const { width, height } = made.degraded[0];
  const whole: Region = { x: 0, y: 0, width, height };
  const codes = await photographedCodes(made, width, height);
  const bits = made.recipe.jpeg ? 8 : 16;
  const piece: CodePiece = { region: whole, channels: 3, codes };
  const psf = knowledge === 'told' ? made.psf : undefined;
  const reading = takeReading({
    channels: decodePiece(piece, whole, space),
    lumaWeights: space.lumaWeights,
    use: made.mask ?? filledPlane(width, height, 1),
    clipped: clippedOver(piece, whole),
    jpeg: made.recipe.jpeg !== null,
    kernels,
    ...(psf ? { psf } : {}),
  });
  const accepted = acceptReading(reading, { kind: 'mask', key: '' });
  const plan = planFor(accepted, knowledge, made.psf);
  if (!plan) return null;
  const source = { frame: whole, space, mask: made.mask ?? undefined, psf };
  const effort = { ...FINAL_EFFORT, kernels };
  const solved = solveTile(source, plan, piece, whole, effort)!;
  const honest = auditTile(source, plan, piece, whole, solved, bits, effort);
  const patches: number[] = [];
  for (let y = BORDER_PX; y + PATCH_PX <= height - BORDER_PX; y += PATCH_PX) {
    for (let x = BORDER_PX; x + PATCH_PX <= width - BORDER_PX; x += PATCH_PX) {
      const { unproven } = figuresOver([honest], { x, y, width: PATCH_PX, height: PATCH_PX });
      if (unproven.verdict !== 'not measurable') patches.push(unproven.value);
    }
  }
  const offset = { x: -solved.wide.x, y: -solved.wide.y, width, height };
  const { recovered, alpha } = solved.layers[0];
  const answer = recovered.free.map((plane) => cropPlane(plane, offset));
  const allowed = cropPlane({ ...alpha, data: alpha.data.map((value) => (value > 0.9 ? 1 : 0)) }, offset);
  const random = seededRandom(seed);
  const fakes: JudgedFake[] = [];
  for (const fake of FAKES) {
    for (const strength of STRENGTHS) {
      for (let k = 0; k < perKind; k++) {
        const forged = forge(answer, fake, strength, allowed, MARGIN_PX, random);
        const tile = { x: (forged.x - 32) & ~1, y: (forged.y - 32) & ~1, width: 64, height: 64 };
        const wide = grow(tile, auditMargin(plan, psf));
        const part = partOf(solved, wide, forged.channels);
        const { unproven } = figuresOver([auditTile(source, plan, piece, tile, part, bits, effort)], tile);
        const far = unproven.at ? Math.hypot(unproven.at.x - forged.x, unproven.at.y - forged.y) : Infinity;
        const blur = psf ?? psfOf(recoverySettingsOf(plan)!);
        fakes.push({
          fake,
          strength,
          snr: matchedSnr(answer, forged.channels, piece, wide, accepted, blur, kernels),
          // The map gathers evidence over 9 px: its peak may lie that much outside.
          level: far <= forged.radius + 5 ? unproven.value : 0,
        });
      }
    }
  }
  return { name: made.recipe.name, patches, fakes };
}

async function photographedCodes(made: PracticeCase, width: number, height: number): Promise<Uint16Array> {
  const codes = encodeChannels(made.degraded, colourSpaceOf(null, 3));
  if (!made.recipe.jpeg) return codes;
  const bytes = Uint8Array.from(codes, (code) => Math.round(code / 257));
  const jpeg = await sharp(bytes, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: made.recipe.jpeg, chromaSubsampling: '4:4:4' })
    .toBuffer();
  return Uint16Array.from(await sharp(jpeg).raw().toBuffer(), (value) => value * 257);
}

/** Everything Automatic, amount 100. */
function planFor(reading: AcceptedReading, knowledge: Knowledge, psf: Psf): Prescription | null {
  const method = knowledge === 'told' ? 'ordinary-softness' : reading.method;
  if (!method) return null;
  const recovery = automaticRecovery(method, reading, 100);
  const size = knowledge === 'told' ? Math.max(2, 2 * reachOf(psf)) : recovery.blurSizePx.value;
  const blurSizePx =
    knowledge === 'wrong by a tenth' ? { value: 1.1 * size, auto: false } : { value: size, auto: true };
  return { ...emptyPrescription(), reading, recovery: { ...recovery, blurSizePx, trialId: null } };
}

/** A solved tile cut down to a smaller one, with the forged picture in place of the answer. */
function partOf(solved: SolvedTile, wide: Region, forged: readonly Plane[]): SolvedTile {
  const cut = (plane: Plane) => cropPlane(plane, { ...wide, x: wide.x - solved.wide.x, y: wide.y - solved.wide.y });
  const answer = forged.map((plane) => cropPlane(plane, wide));
  const [layer] = solved.layers;
  const recovered = { answer, free: answer, believed: cut(layer.recovered.believed) };
  return { ...solved, wide, base: solved.base.map(cut), layers: [{ ...layer, alpha: cut(layer.alpha), recovered }] };
}

function matchedSnr(
  honest: readonly Plane[],
  forged: readonly Plane[],
  piece: CodePiece,
  wide: Region,
  { noise, noiseFloor }: AcceptedReading,
  psf: Psf,
  kernels: Kernels,
): number {
  const [before, after] = [honest, forged].map((planes) => toOpponent(planes.map((plane) => cropPlane(plane, wide))));
  const original = decodePiece(piece, wide, colourSpaceOf(null, 3));
  const variances = noiseVariances({
    original,
    components: toOpponent(original),
    noise,
    noiseFloor,
    clipped: new Uint8Array(wide.width * wide.height),
    bits: 16,
  });
  const blur = new BlurOver([{ psf, share: null }], kernels);
  return Math.sqrt(
    before.reduce((sum, plane, c) => {
      const difference = { ...plane, data: plane.data.map((value, i) => after[c].data[i] - value) };
      const again = blur.blur([difference])[0].data;
      return sum + again.reduce((energy, value, i) => energy + (value * value) / variances[c].data[i], 0);
    }, 0),
  );
}

/** Shares of honest patches: the mean over pictures and the worst picture. */
export function falseAlarms(judged: readonly Judged[], level: 1 | 2): { mean: number; worst: number } {
  const shares = judged
    .filter(({ patches }) => patches.length > 0)
    .map(({ patches }) => patches.filter((value) => value >= level).length / patches.length);
  return { mean: shares.reduce((sum, share) => sum + share, 0) / shares.length, worst: Math.max(...shares) };
}

/** Shares of fakes of one kind that are found, and how many were strong enough to count. */
export function detection(
  judged: readonly Judged[],
  fake: Fake,
): { counted: number; check: number; damaged: number; weak: number } {
  const own = judged.flatMap(({ fakes }) => fakes).filter((one) => one.fake === fake);
  const strong = own.filter(({ snr }) => snr >= LEAST_SNR);
  const weak = own.filter(({ snr }) => snr < LEAST_SNR);
  const share = (list: readonly JudgedFake[], level: number) =>
    list.length > 0 ? list.filter((one) => one.level >= level).length / list.length : 0;
  return { counted: strong.length, check: share(strong, 1), damaged: share(strong, 2), weak: share(weak, 1) };
}
