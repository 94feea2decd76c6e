import { FWHM_PER_SIGMA, type Plane } from '@vitrocept/core';
import { readGreyPlane, readPicture } from '@vitrocept/files';
import { MEASURED_OVER, measureFrame, type MeasuredFrame } from './measureFrame';
import type { ReadOptions } from './options';
import { checkMaskSize, fromCaller } from './paths';

/** Prints one JSON array; returns whether every file could be read. */
export async function readCommand(options: ReadOptions, print: (text: string) => void): Promise<boolean> {
  const mask = options.mask ? await readGreyPlane(fromCaller(options.mask), 'mask') : null;
  const rows = [];
  for (const file of options.files) rows.push(await rowOf(file, mask, options.wholeFrame));
  print(`${JSON.stringify(rows, null, 2)}\n`);
  return rows.every((row) => !('error' in row));
}

async function rowOf(file: string, mask: Plane | null, wholeFrame: boolean) {
  try {
    const picture = await readPicture(fromCaller(file));
    if (mask) checkMaskSize(mask, picture);
    return { file, ...summary(await measureFrame(picture, { mask, wholeFrame })) };
  } catch (error) {
    return { file, error: (error as Error).message };
  }
}

const rounded = (value: number, digits: number) => Number(value.toFixed(digits));

function summary({ reading, over, share }: MeasuredFrame) {
  const { cause } = reading;
  const size = cause?.blurSizePx ?? 0;
  const only = (method: string, value: number) => (cause?.method === method ? rounded(value, 3) : null);
  return {
    method: cause?.method ?? 'none',
    blurSizePx: rounded(size, 3),
    directionDeg: cause?.method === 'straight-movement' ? rounded(cause.directionDeg, 2) : 0,
    radiusPx: only('missed-focus', size / 2),
    lengthPx: only('straight-movement', size),
    sigmaPx: only('ordinary-softness', size / FWHM_PER_SIGMA),
    confidence: rounded(reading.confidence, 3),
    runnerUp: reading.runnerUp?.method ?? 'none',
    noise: {
      a: perChannel(reading.noise.map(({ a }) => a)),
      b: perChannel(reading.noise.map(({ b }) => b)),
      sigmaMidPercent: rounded(reading.noisePercent, 4),
    },
    pile: reading.pile,
    leftAlone: reading.leftAlone,
    measuredOver: MEASURED_OVER[over],
    subjectShare: share === null ? null : rounded(share, 3),
  };
}

/** Three values always: a grey picture's one stands for all. */
function perChannel(values: readonly number[]): number[] {
  return (values.length === 1 ? [values[0], values[0], values[0]] : values).map((value) =>
    Number(value.toPrecision(5)),
  );
}
