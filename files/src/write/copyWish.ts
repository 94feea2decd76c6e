import type { CopyWishes, SaveFormat } from '@vitrocept/core';
import type { HowMade } from '../metadata/xmp';
import type { CopyFacts, Page } from './page';

export interface CopyWish {
  readonly facts: CopyFacts;
  /** Several become pages of one TIFF. */
  readonly pages: readonly Page[];
  readonly format: SaveFormat;
  readonly quality?: number;
  /** Where they are left out: as the original, with all that is known of the shot. */
  readonly wishes?: Omit<CopyWishes, 'namePattern'>;
  /** How the copy came about. */
  readonly how?: HowMade;
}

export const AS_ORIGINAL = { colour: 'as-original', metadata: 'all', ppi: null } as const;
