import { mixed, number, object, string } from 'yup';
import { CoreError } from '../errors';
import { STRICT } from '../prescription/maskSchema';
import { checkPrescription } from '../prescription/prescriptionSchema';
import {
  KEPT_KIND,
  KEPT_VERSION,
  KEPT_WAYS,
  MOST_KEPT_NAME,
  type KeptPart,
  type KeptPrescription,
} from './keptPrescription';

const way = <P extends KeptPart>(part: P) =>
  mixed<(typeof KEPT_WAYS)[P][number]>()
    .oneOf([...KEPT_WAYS[part]])
    .required();

const side = () => number().integer().min(1).max(1e5).required();

export const keptName = () =>
  string()
    .trim()
    .min(1, 'Give it a name.')
    .max(MOST_KEPT_NAME, `At most ${MOST_KEPT_NAME} letters.`)
    .required('Give it a name.');

export const keptWays = () =>
  object({
    subject: way('subject'),
    reading: way('reading'),
    cleaning: way('cleaning'),
    recovery: way('recovery'),
    amount: way('amount'),
    framing: way('framing'),
    corrections: way('corrections'),
    finishing: way('finishing'),
  })
    .noUnknown()
    .required();

const keptSchema = object({
  kind: mixed<typeof KEPT_KIND>().oneOf([KEPT_KIND]).required(),
  version: mixed<typeof KEPT_VERSION>().oneOf([KEPT_VERSION]).required(),
  name: keptName(),
  ways: keptWays(),
  frame: object({ width: side(), height: side() }).noUnknown().required(),
  prescription: mixed<object>().required(),
})
  .noUnknown()
  .required();

/** In the first version there were no corrections and no finishing. */
function fromFirst(value: object): object {
  const { ways } = value as { ways?: object };
  return { ...value, version: 2, ways: { ...ways, corrections: 'left-out', finishing: 'left-out' } };
}

/**
 * A kept prescription as a file holds it, its prescription brought up to date.
 *
 * @throws CoreError KEPT_INVALID with what is wrong and where, KEPT_NEWER, PRESCRIPTION_INVALID, PRESCRIPTION_NEWER.
 */
export function checkKept(value: unknown): KeptPrescription {
  const { kind, version } = (value ?? {}) as { kind?: unknown; version?: unknown };
  if (kind !== KEPT_KIND) throw new CoreError('KEPT_INVALID', 'This is not a kept prescription.');
  if (typeof version === 'number' && version > KEPT_VERSION) {
    throw new CoreError(
      'KEPT_NEWER',
      `The kept prescription has version ${version}; this Vitrocept knows versions up to ${KEPT_VERSION}.`,
    );
  }
  try {
    const kept = keptSchema.validateSync(version === 1 ? fromFirst(value as object) : value, STRICT);
    return { ...kept, prescription: checkPrescription(kept.prescription) };
  } catch (error) {
    if (error instanceof CoreError) throw error;
    throw new CoreError('KEPT_INVALID', `Not a valid kept prescription: ${(error as Error).message}.`);
  }
}
