import type { ArtworkSize } from '../core/artwork/index.ts';
import { FormatError } from '../core/formats/index.ts';

/** The largest picture, by pixels on one side. */
const MAX_SIDE_PIXELS = 16_384;

/** A drawing as PNG in its own size; one that states pixels alone has 96 of them in an inch (CSS Values 4, 6.2). */
export async function pictureOf(
  svg: string,
  size: Pick<ArtworkSize, 'width' | 'height' | 'unit'>,
  dpi: number,
): Promise<Uint8Array> {
  const inches = size.unit === 'mm' ? 25.4 : 96;
  const [width, height] = [size.width, size.height].map((v) =>
    Math.max(1, Math.round((v / inches) * dpi)),
  ) as [number, number];
  if (Math.max(width, height) > MAX_SIDE_PIXELS)
    throw new FormatError(
      `the picture would be ${Math.max(width, height).toLocaleString('en')} pixels long; up to ${MAX_SIDE_PIXELS.toLocaleString('en')} can be made. Give a lower --dpi.`,
    );
  const { default: sharp } = await import('sharp');
  // its renderer counts the density twice where a length is physical, and from 72 where it is not
  const density = size.unit === 'mm' ? Math.sqrt(72 * dpi) : (72 * dpi) / 96;
  return sharp(Buffer.from(svg), { density: Math.min(100_000, Math.max(1, density)), unlimited: true })
    .resize({ width, height, fit: 'fill', kernel: 'nearest' })
    .withMetadata({ density: dpi })
    .png()
    .toBuffer();
}
