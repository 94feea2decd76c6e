export const USAGE = `Vitrocept on the command line

  vitrocept read FILE… [--mask MASK.png] --json
      Measures each file: cause and size of the blur, noise, pile.

  vitrocept render FILE… --out DIR [options]
      Writes a recovered copy of each file; originals are never touched.
      With neither --method nor --prescription each file follows its own reading:
      Good as is is left alone, Grainy is cleaned, Soft is recovered.

      --format FORMAT        png16 (default), tiff16, png8 or jpeg
      --method METHOD        ordinary-softness, missed-focus, straight-movement, edge-contrast
                             or fine-texture
      --blur-size N          px: full width at half maximum, diameter or length
      --direction N          degrees, counter-clockwise from the right, as seen
      --amount N             0 to 100 (default 100)
      --noise-guard N        0 to 100 (default 50, the measured noise)
      --psf PSF.png          grey picture of a point of light; odd sides
      --mask MASK.png        grey picture of the frame's upright size; white is recovered
      --prescription P.json  a saved prescription
      --replace              writes over results that are there already; never over an original

Paths are taken from the folder you call from. Exit: 0 all done, 1 some file failed, 2 wrong usage.
`;

/** Wrong usage: nothing has been done. */
export class UsageError extends Error {}
