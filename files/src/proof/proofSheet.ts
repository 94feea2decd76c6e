import type { CopyWishes, Prescription } from '@vitrocept/core';
import type { MarkKind } from './painter';

/** One copy that is proved. */
export interface Proved {
  readonly frameName: string;
  readonly original: string;
  readonly copy: string;
  readonly copyName: string;
  /** As far as the stage that was rendered. */
  readonly prescription: Prescription;
  readonly wishes: CopyWishes;
  /** ISO 8601. */
  readonly renderedAt: string;
  /** What the audit said while rendering, where no trial was chosen by hand. */
  readonly worst?: { readonly verdict: MarkKind; readonly place: { readonly x: number; readonly y: number } } | null;
}

/** A sheet for each copy. What draws it is loaded by the first that is asked for: fonts and PDF take their time. */
export const proofSheet = async (copies: readonly Proved[], as: 'pdf' | 'png'): Promise<Buffer> =>
  (await import('./drawProofSheets')).drawProofSheets(copies, as);
