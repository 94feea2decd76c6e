import {
  asLinearSrgb,
  auditPlaces,
  BORDER_PX,
  cropPlane,
  encodeChannels,
  FINAL_EFFORT,
  gradeOfPlace,
  gradeResult,
  grow,
  intersect,
  inverse3,
  mixes,
  practiceBlurPx,
  recoveredOnly,
  regionNeeded,
  regionOfProbe,
  srgbEncode,
  wholeOf,
  worstOf,
  type Figures,
  type Grade,
  type Plane,
  type PlaceGrade,
  type PracticeSpec,
  type Prescription,
  type Region,
} from '@vitrocept/core';
import { nodeKernels } from './nodeKernels';
import { truthOfPracticeFrame } from './practiceCamera';
import { practiceFrameAt, type PracticeFrame } from './practiceFrames';
import { pieceOf } from './pieces';
import { readPicture, type DecodedPicture } from './readPicture';
import { renderPicture } from './renderPicture';
import { spaceOfSamples } from './keptFacts';
import { writeSamples, type SampleFile } from './sampleFile';

/** The photograph that a spec means. @param scene - Path of a frame of one's own. */
export function frameOfSpec(spec: PracticeSpec, name: string, scene?: string): PracticeFrame {
  const { fault, iso, seed, isMosaic, blades, quality, turnDeg } = spec;
  const rest = { name, fault, blurPx: practiceBlurPx(spec), iso, seed, isMosaic, blades, quality, turnDeg };
  return scene === undefined ? practiceFrameAt(Number(spec.scene), rest) : { ...rest, scene, x: 0, y: 0 };
}

/** How a result and its audit stand against the truth. */
export interface PracticeGrade {
  readonly grade: Grade;
  /** At the probes. */
  readonly probes: readonly PlaceGrade[];
  /** All over the frame, square by square. */
  readonly squares: readonly PlaceGrade[];
}

/** Side of a square of the map, px: as probes have. */
const SQUARE = 96;

/**
 * Grades what a prescription makes of a practice frame: the whole against the truth, and what the audit says of every
 * place against what is true there.
 *
 * @param truths - Folder of the known scenes.
 */
export async function gradePractice(
  file: SampleFile,
  whole: Prescription,
  truths: string,
  frame: PracticeFrame,
): Promise<PracticeGrade> {
  // The truth knows no corrections and no crop.
  const prescription = recoveredOnly(whole);
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels() };
  const photograph = await readPicture(file.original);
  const truth = await truthPlanes(truths, frame);
  const { codes } = renderPicture(photograph, prescription, {}, effort);
  const result = encodedPlanes({ ...photograph, bits: 16, samples: codes });
  const before = encodedPlanes(photograph);
  const source = { frame: file, space: photograph.space };
  const audited = (region: Region): Figures | null => {
    const tile = intersect(region, wholeOf(file));
    const piece = pieceOf(photograph, regionNeeded(source, prescription, tile, effort));
    return auditPlaces(source, prescription, [{ tile, piece }], file.bits, effort)[0] ?? null;
  };
  const place = (region: Region, name: string): PlaceGrade => {
    const at = intersect(region, wholeOf(file));
    const cut = (planes: readonly Plane[]) => planes.map((plane) => cropPlane(plane, grow(at, BORDER_PX)));
    const figures = audited(at);
    const verdict = figures
      ? worstOf(
          [figures.halo, figures.ringing, figures.unproven, figures.colour, figures.grain, figures.leak].map(
            (f) => f.verdict,
          ),
        )
      : 'not measurable';
    return gradeOfPlace(name, at, cut(result), cut(truth), cut(before), verdict);
  };
  const squares: PlaceGrade[] = [];
  for (let y = 0; y + SQUARE <= file.height; y += SQUARE) {
    for (let x = 0; x + SQUARE <= file.width; x += SQUARE) {
      squares.push(place({ x, y, width: SQUARE, height: SQUARE }, ''));
    }
  }
  return {
    grade: gradeResult(result, truth, before),
    probes: prescription.probes.map((probe) => place(regionOfProbe(probe), probe.name)),
    squares,
  };
}

/** What the camera would have taken without fault, sRGB-encoded 0..1. */
export async function truthPlanes(truths: string, frame: PracticeFrame): Promise<Plane[]> {
  return (await truthOfPracticeFrame(truths, frame)).map(encoded);
}

/** The truth on the frame's grid and in its colours, as samples of a version that was made elsewhere. */
export async function writeTruthSamples(
  truths: string,
  frame: PracticeFrame,
  file: SampleFile,
  place: string,
): Promise<void> {
  const truth = await truthOfPracticeFrame(truths, frame);
  const space = await spaceOfSamples(file);
  const back = inverse3(space.toLinearSrgb!);
  const codes = encodeChannels(mixes(truth, [back.slice(0, 3), back.slice(3, 6), back.slice(6, 9)]), space);
  await writeSamples(place, new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
}

/** sRGB-encoded, 0..1; a grey picture as three alike. */
export function encodedPlanes({
  width,
  height,
  channels,
  bits,
  samples,
  space,
}: Pick<DecodedPicture, 'width' | 'height' | 'channels' | 'bits' | 'samples' | 'space'>): Plane[] {
  const perCode = bits === 8 ? 257 : 1;
  const linear = space.decode.map((table, c) => {
    const data = new Float32Array(width * height);
    for (let i = 0; i < data.length; i++) data[i] = table[samples[i * channels + c] * perCode];
    return { width, height, data };
  });
  return asLinearSrgb(linear, space).map(encoded);
}

const encoded = (plane: Plane): Plane => ({
  ...plane,
  data: plane.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))),
});
