/** Checked before anything is decoded. */
export const LIMITS = {
  fileBytes: 400 * 1024 * 1024,
  megapixels: 120,
  sidePx: 30000,
} as const;
