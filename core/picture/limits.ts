/** A picture that is not opened, though it may be sound; the message says why, and goes behind the file's name. */
export class PictureRefusedError extends Error {
  override name = 'PictureRefusedError';
}

/** Larger pictures are refused rather than filling the memory. */
export const MOST_PIXELS = 40_000_000;

/** @throws PictureRefusedError for a picture of more pixels than are taken */
export function checkPixels(width: number, height: number): void {
  if (width * height > MOST_PIXELS)
    throw new PictureRefusedError(
      `the picture has ${Math.round((width * height) / 1e6)} megapixels; Papillon takes up to ${MOST_PIXELS / 1e6}. Make a smaller copy first.`,
    );
}
