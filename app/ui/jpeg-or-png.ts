/** A picture as what takes only these two can read: as it is where it is one of them, else as PNG. */
export async function jpegOrPng(picture: Blob): Promise<Blob> {
  if (picture.type === 'image/jpeg' || picture.type === 'image/png') return picture;
  const bitmap = await createImageBitmap(picture);
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/png' });
}
