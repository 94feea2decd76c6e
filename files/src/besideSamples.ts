import sharp from 'sharp';

/** What changes how a picture is seen, beside its samples and their colours. */
export interface BesideSamples {
  /** Opacity of its own, or a colour that is seen through. */
  readonly isTransparent: boolean;
  readonly pages: number;
}

/** @param isSensorData - Such files have neither. */
export async function besideSamples(path: string, isSensorData: boolean): Promise<BesideSamples> {
  if (isSensorData) return { isTransparent: false, pages: 1 };
  const { hasAlpha, pages = 1 } = await sharp(path, { limitInputPixels: false }).metadata();
  return { isTransparent: hasAlpha, pages };
}
