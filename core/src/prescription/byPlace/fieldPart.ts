import type { Plane } from '../../picture/plane';
import type { RecoverySettings } from '../../recover/recovery';

/** One blur of a field, and how far it holds at every sample of a region. */
export interface FieldPart {
  /** Null: sharp already, the original stays. */
  readonly settings: RecoverySettings | null;
  readonly share: Plane;
}
