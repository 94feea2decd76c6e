import { readFile } from 'node:fs/promises';
import { colourSpaceOf, LastUsed, type ColourSpace, type NoiseLine } from '@vitrocept/core';
import { inspectPicture } from './readPicture';
import { writeAtomically } from './writeAtomically';

/** What is kept beside the decoded samples, so that nobody looks at the original again for a tile. */
export interface KeptFacts {
  readonly icc: Buffer | null;
  readonly sensorNoise?: readonly NoiseLine[];
}

/** Decoded samples and where they come from. */
interface SamplesOf {
  readonly path: string;
  readonly original: string;
}

const factsPath = (samples: string) => `${samples}.facts`;

/** @param place - Of the samples. */
export async function keepFacts(place: string, { icc, sensorNoise }: KeptFacts): Promise<void> {
  const text = JSON.stringify({ icc: icc ? icc.toString('base64') : null, sensorNoise });
  await writeAtomically(factsPath(place), [Buffer.from(text)]);
}

/** What was kept, or what the original says where nothing was. */
export async function keptFacts({ path, original }: SamplesOf): Promise<KeptFacts> {
  try {
    const { icc, sensorNoise } = JSON.parse(await readFile(factsPath(path), 'utf8')) as Written;
    return { icc: icc === null ? null : Buffer.from(icc, 'base64'), sensorNoise };
  } catch {
    const facts = await inspectPicture(original);
    // Where it cannot be kept it is looked up again.
    await keepFacts(path, { icc: facts.icc }).catch(() => undefined);
    return { icc: facts.icc };
  }
}

type Written = Omit<KeptFacts, 'icc'> & { readonly icc: string | null };

const spaces = new LastUsed<string, Promise<ColourSpace>>(8);

/** The colour space of decoded samples: made once a thread, its tables take longer than a tile. */
export function spaceOfSamples(file: SamplesOf & { readonly channels: 1 | 3 }): Promise<ColourSpace> {
  return spaces.of(file.path, () => {
    const made = keptFacts(file).then(({ icc }) => colourSpaceOf(icc, file.channels));
    made.catch(() => spaces.delete(file.path));
    return made;
  });
}
