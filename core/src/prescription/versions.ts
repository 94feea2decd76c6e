import { CoreError } from '../errors';
import { PRESCRIPTION_VERSION } from './prescription';

type Saved = Readonly<Record<string, unknown>>;

/** MIGRATIONS[n] turns a prescription of version n into one of version n + 1 that means the same. */
const MIGRATIONS: Readonly<Record<number, (saved: Saved) => Saved>> = {
  // The finished picture was always the whole frame.
  1: (saved) => ({ ...saved, geometry: null }),
  // Corrections, mends and finishing may be there from now on.
  2: (saved) => saved,
};

/**
 * A saved prescription of any version as today's; what is no prescription comes back as it is, to be refused with
 * reasons.
 *
 * @throws CoreError PRESCRIPTION_NEWER where it comes from a later Vitrocept.
 */
export function upToDate(value: unknown): unknown {
  const version = (value as { version?: unknown } | null)?.version;
  if (typeof version !== 'number') return value;
  if (version > PRESCRIPTION_VERSION) {
    throw new CoreError(
      'PRESCRIPTION_NEWER',
      `The prescription has version ${version}; this Vitrocept knows versions up to ${PRESCRIPTION_VERSION}.`,
    );
  }
  let saved = value as Saved;
  for (let at = version; at < PRESCRIPTION_VERSION; at++) {
    const migrate = MIGRATIONS[at];
    if (!migrate) return value;
    saved = { ...migrate(saved), version: at + 1 };
  }
  return saved;
}
