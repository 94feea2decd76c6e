import { METHOD_DESCRIPTIONS, type Method } from '../methods';
import type { Cleaning } from '../prescription/prescription';

/** 7.0 px across. */
export const sizeWords = (method: Method, blurSizePx: number, directionDeg: number): string =>
  `${blurSizePx.toFixed(1)} px${METHOD_DESCRIPTIONS[method].sizeWords({ directionDeg })}`;

export const CHANNEL_NAMES = ['Red', 'Green', 'Blue'] as const;

/** The cleaning in a line. */
export function cleaningWords(
  { luminance, colour, detailKept, channelPercents, band }: Cleaning,
  maskName: string | null,
): string {
  const percent = (name: string, value: number) => `${name} ${value.toFixed(0)} %`;
  return [
    percent('luminance noise', luminance.value),
    percent('colour noise', colour.value),
    percent('detail kept', detailKept.value),
    ...CHANNEL_NAMES.flatMap((name, c) =>
      (channelPercents[c] ?? 100) < 100 ? percent(`${name.toLowerCase()} only`, channelPercents[c]) : [],
    ),
    ...(band ? ['in a tone band'] : []),
    maskName === null ? 'over the whole frame' : `inside mask “${maskName}”`,
  ].join(', ');
}
