import { METHOD_DESCRIPTIONS, METHODS, SAVE_FORMATS, SETTINGS, STARTER_PRESCRIPTIONS } from '@vitrocept/core';

/** A path is only found by a reading, so these cannot be told. */
const TOLD_METHODS = METHODS.filter((method) => !METHOD_DESCRIPTIONS[method].followsPath);
export const DEFAULT_FORMAT = 'png16';

const INDENT = ' '.repeat(29);
const listed = (words: readonly string[]) => {
  const lines: string[] = [];
  for (const word of words) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + word.length < 70) lines[lines.length - 1] = `${last}, ${word}`;
    else lines.push(word);
  }
  return lines.join(`,\n${INDENT}`);
};
const range = ({ least, most }: { least: number; most: number }) => `${least} to ${most}`;
const formats = SAVE_FORMATS.map((format) => (format === DEFAULT_FORMAT ? `${format} (default)` : format));

export const USAGE = `Vitrocept on the command line

  vitrocept read FILE… [--mask MASK.png | --whole-frame] --json
      Measures each file: cause and size of the blur, noise, pile.
      Without --mask the subject is looked for and measured, or the places with most detail.

  vitrocept render FILE… --out DIR [options]
      Writes a recovered copy of each file; originals are never touched.
      With neither --method nor --prescription each file follows its own reading:
      Good as is is left alone, Grainy is cleaned, Soft is recovered.

      --format FORMAT        ${listed(formats)}
      --method METHOD        ${listed(TOLD_METHODS)}
      --blur-size N          px, ${range(SETTINGS.blurSizePx)}: full width at half maximum, diameter or length
      --direction N          degrees, ${range(SETTINGS.directionDeg)}, counter-clockwise from the right, as seen
      --amount N             ${range(SETTINGS.amount)} (default 100), or safest: the strongest at which the
                             audit finds nothing beyond safe
      --noise-guard N        ${range(SETTINGS.noiseGuard)} (default 50, the measured noise)
      --texture learned|plain  with the texture a trained network finds missing (default), or without
      --badly-soft           recovered at half size and brought up: for a blur of 35 px and more
      --psf PSF.png          grey picture of a point of light; odd sides
      --mask MASK.png        grey picture of the frame's upright size; white is recovered
      --whole-frame          the subject is not looked for: measures and recovers the whole frame
      --prescription P.json  a saved prescription
      --replace              writes over results that are there already; never over an original

  vitrocept round DIR --out DIR [--use NAME|FILE] [--format FORMAT] [--jobs N] [--json]
      Uses a kept prescription on every picture of a folder: measures what is to be measured anew,
      recovers as far as safe, writes. Stopped and called again it goes on; what is done is not
      done twice. Without --use: “${STARTER_PRESCRIPTIONS[0].name}”.

      --use NAME|FILE        one of those that ship, or an exported file:
${STARTER_PRESCRIPTIONS.map(({ name }) => `${INDENT}“${name}”`).join('\n')}
      --jobs N               frames at a time (default: one a core)
      --json                 what was done with each frame, and which want a look

  vitrocept prove COPY ORIGINAL --prescription P.json
      Renders the original by the prescription once more and says whether every sample of the copy
      is the same, or where not. Both come with a render: its file, and “prescription” beside it.

  vitrocept practice list | make CASE --out DIR [--mosaic] | grade RESULT CASE [--json]
      Twelve known scenes photographed with a fault, from easy to hopeless. What anybody made of one
      is held against the truth: how much nearer, and what was invented.

      --mosaic               as a raw file (DNG with the sensor’s mosaic) in place of a JPEG

Paths are taken from the folder you call from. Exit: 0 all done, 1 some file failed, 2 wrong usage.
`;

/** Wrong usage: nothing has been done. */
export class UsageError extends Error {}
