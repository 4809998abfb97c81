/** A picture that is not opened, though it may be sound; the message says why, and goes behind the file's name. */
export class PictureRefusedError extends Error {
  override name = 'PictureRefusedError';
}

/** Larger pictures are refused rather than filling the memory. */
export const MAX_PIXELS = 40_000_000;

/** The longer side of a copy that is kept with a library, px, and what it may weigh. */
export const COPY_SIDE = 1600;
export const COPY_BYTES = 4 * 1024 * 1024;

/** More than any picture of that size has, even unpacked. */
export const MAX_PICTURE_BYTES = 400_000_000;

/** @throws PictureRefusedError for a picture of more pixels than are taken */
export function checkPixels(width: number, height: number): void {
  if (width * height > MAX_PIXELS)
    throw new PictureRefusedError(
      `the picture has ${Math.round((width * height) / 1e6)} megapixels; Papillon takes up to ${MAX_PIXELS / 1e6}. Make a smaller copy first.`,
    );
}

/** @throws PictureRefusedError for a file larger than any picture that is taken */
export function checkPictureBytes(bytes: number): void {
  if (bytes > MAX_PICTURE_BYTES)
    throw new PictureRefusedError(
      `the file has ${Math.round(bytes / 1e6)} MB; Papillon takes pictures of up to ${MAX_PICTURE_BYTES / 1e6} MB. Make a smaller copy first.`,
    );
}
