/** What a canvas holds as PNG. @throws Error where that is more than this browser can */
export async function asPng(canvas: HTMLCanvasElement): Promise<Uint8Array<ArrayBuffer>> {
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('the picture is too large for this browser. Lower the pixels per inch.');
  return new Uint8Array(await blob.arrayBuffer());
}

/** A canvas of a size with its context. @throws Error where it is too large for this browser */
export function canvasOf(width: number, height: number) {
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext('2d');
  if (!context) throw new Error('the picture is too large for this browser. Lower the pixels per inch.');
  return { canvas, context };
}

/** A drawing or picture as PNG of a number of pixels. */
export async function pngOf(picture: Blob, width: number, height: number): Promise<Uint8Array<ArrayBuffer>> {
  const url = URL.createObjectURL(picture);
  try {
    const image = new Image(width, height);
    image.src = url;
    await image.decode();
    const { canvas, context } = canvasOf(width, height);
    context.drawImage(image, 0, 0, width, height);
    return await asPng(canvas);
  } finally {
    URL.revokeObjectURL(url);
  }
}
