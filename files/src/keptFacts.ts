import { readFile } from 'node:fs/promises';
import { colourSpaceOf, LastUsed, type ColourSpace } from '@vitrocept/core';
import type { PictureFacts } from './decoders/decoder';
import { inspectPicture } from './readPicture';
import { writeAtomically } from './writeAtomically';

/** What is kept beside the decoded samples, so that nobody looks at the original again for a tile. */
export interface KeptFacts {
  readonly icc: Buffer | null;
}

/** Decoded samples and where they come from. */
interface SamplesOf {
  readonly path: string;
  readonly original: string;
}

const factsPath = (samples: string) => `${samples}.facts`;

/** @param place - Of the samples. */
export async function keepFacts(place: string, { icc }: Pick<PictureFacts, 'icc'>): Promise<void> {
  const text = JSON.stringify({ icc: icc ? icc.toString('base64') : null });
  await writeAtomically(factsPath(place), [Buffer.from(text)]);
}

/** What was kept, or what the original says where nothing was. */
export async function keptFacts({ path, original }: SamplesOf): Promise<KeptFacts> {
  try {
    const { icc } = JSON.parse(await readFile(factsPath(path), 'utf8')) as { icc: string | null };
    return { icc: icc === null ? null : Buffer.from(icc, 'base64') };
  } catch {
    const facts = await inspectPicture(original);
    // Where it cannot be kept it is looked up again.
    await keepFacts(path, facts).catch(() => undefined);
    return facts;
  }
}

const spaces = new LastUsed<string, Promise<ColourSpace>>(8);

/** The colour space of decoded samples: made once a thread, its tables take longer than a tile. */
export function spaceOfSamples(file: SamplesOf & { readonly channels: 1 | 3 }): Promise<ColourSpace> {
  return spaces.of(file.path, () => {
    const made = keptFacts(file).then(({ icc }) => colourSpaceOf(icc, file.channels));
    made.catch(() => spaces.delete(file.path));
    return made;
  });
}
