import type { SpectralSums } from '../picture/filters';
import type { SpectrumSamples } from './spectralFit';

export const HUBER = 0.8;
export const LINEAR = 6;
export const PARAMETERS = LINEAR + 1;

/**
 * Adds up the normal equations at the given parameters and the Huber losses. A sample's derivatives are share · basis
 * and, for the floor, 1 − share. Twin of kernels/assembly/spectralSums.ts, in double precision. Written out in plain
 * variables: in arrays it takes twice as long.
 */
export function sumUp(
  samples: SpectrumSamples,
  base: Float64Array,
  logGain: Float64Array,
  parameters: readonly number[],
): SpectralSums {
  const { count, logPower } = samples;
  const [, columnA, columnB, columnC, columnD, columnE] = samples.basis;
  const [p0, pA, pB, pC, pD, pE, logFloor] = parameters;
  const floor = Math.exp(logFloor);
  let cost = 0;
  // Of basis with basis, of basis with the floor, of the floor with itself; r: of each with the residual.
  let n00 = 0;
  let n0A = 0;
  let n0B = 0;
  let n0C = 0;
  let n0D = 0;
  let n0E = 0;
  let nAA = 0;
  let nAB = 0;
  let nAC = 0;
  let nAD = 0;
  let nAE = 0;
  let nBB = 0;
  let nBC = 0;
  let nBD = 0;
  let nBE = 0;
  let nCC = 0;
  let nCD = 0;
  let nCE = 0;
  let nDD = 0;
  let nDE = 0;
  let nEE = 0;
  let f0 = 0;
  let fA = 0;
  let fB = 0;
  let fC = 0;
  let fD = 0;
  let fE = 0;
  let ff = 0;
  let r0 = 0;
  let rA = 0;
  let rB = 0;
  let rC = 0;
  let rD = 0;
  let rE = 0;
  let rf = 0;
  for (let i = 0; i < count; i++) {
    const a = columnA[i];
    const b = columnB[i];
    const c = columnC[i];
    const d = columnD[i];
    const e = columnE[i];
    const signal = Math.exp(base[i] + logGain[i] + p0 + pA * a + pB * b + pC * c + pD * d + pE * e);
    const total = signal + floor;
    const residual = logPower[i] - Math.log(total);
    const size = Math.abs(residual);
    const isNear = size <= HUBER;
    cost += isNear ? 0.5 * residual * residual : HUBER * (size - 0.5 * HUBER);
    const weight = isNear ? 1 : HUBER / size;
    const share = signal / total;
    const own = weight * share * share;
    const mixed = weight * share * (1 - share);
    const pull = weight * share * residual;
    const ownA = own * a;
    const ownB = own * b;
    const ownC = own * c;
    const ownD = own * d;
    const ownE = own * e;
    n00 += own;
    n0A += ownA;
    n0B += ownB;
    n0C += ownC;
    n0D += ownD;
    n0E += ownE;
    nAA += ownA * a;
    nAB += ownA * b;
    nAC += ownA * c;
    nAD += ownA * d;
    nAE += ownA * e;
    nBB += ownB * b;
    nBC += ownB * c;
    nBD += ownB * d;
    nBE += ownB * e;
    nCC += ownC * c;
    nCD += ownC * d;
    nCE += ownC * e;
    nDD += ownD * d;
    nDE += ownD * e;
    nEE += ownE * e;
    f0 += mixed;
    fA += mixed * a;
    fB += mixed * b;
    fC += mixed * c;
    fD += mixed * d;
    fE += mixed * e;
    ff += weight * (1 - share) * (1 - share);
    r0 += pull;
    rA += pull * a;
    rB += pull * b;
    rC += pull * c;
    rD += pull * d;
    rE += pull * e;
    rf += weight * (1 - share) * residual;
  }
  const normal = Float64Array.of(
    n00,
    n0A,
    n0B,
    n0C,
    n0D,
    n0E,
    f0,
    0,
    nAA,
    nAB,
    nAC,
    nAD,
    nAE,
    fA,
    0,
    0,
    nBB,
    nBC,
    nBD,
    nBE,
    fB,
    0,
    0,
    0,
    nCC,
    nCD,
    nCE,
    fC,
    0,
    0,
    0,
    0,
    nDD,
    nDE,
    fD,
    0,
    0,
    0,
    0,
    0,
    nEE,
    fE,
    0,
    0,
    0,
    0,
    0,
    0,
    ff,
  );
  return { cost, normal, right: Float64Array.of(r0, rA, rB, rC, rD, rE, rf) };
}
