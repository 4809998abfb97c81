/// <reference lib="webworker" />
import { FormatError } from '#core/formats/index';
import { checkPixels } from '#core/picture/index';
import { Colors } from '~/colors/colors';
import { artworkAnswers } from './artwork-answers';
import { makeTypesetting } from './typesetting';
import { serve } from './worker-client';

async function decode(file: Blob) {
  const bitmap = await createImageBitmap(file, {
    colorSpaceConversion: 'none',
    premultiplyAlpha: 'none',
  }).catch(() => {
    throw new FormatError(
      'it cannot be decoded as a picture. It is damaged, or of a kind this browser does not know.',
    );
  });
  const { width, height } = bitmap;
  checkPixels(width, height);
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  if (!context) throw new FormatError('it is larger than this browser can hold.');
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  return { width, height, data: context.getImageData(0, 0, width, height).data };
}

function encode(data: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.putImageData(new ImageData(data, width, height), 0, 0);
  return canvas.convertToBlob({ type: 'image/png' });
}

serve(
  artworkAnswers({ colors: new Colors(), loadFont: makeTypesetting().loadFont, decode, encode }),
  (error) =>
    error instanceof FormatError
      ? error.message
      : `This cannot be done: ${error instanceof Error ? error.message : error}`,
);
