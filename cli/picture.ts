import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import sharp from 'sharp';
import { FormatError } from '../core/formats/index.ts';
import {
  type Decoders,
  decodeHere,
  MAX_PIXELS,
  type Picture,
  PictureRefusedError,
  pictureType,
  spaceOf,
} from '../core/picture/index.ts';
import { colorEngine } from './engine.ts';

// one picture after the other: nothing is gained by keeping what one was made of
sharp.cache(false);
sharp.concurrency(1);

const WASM = {
  heic: 'libheif-js/libheif-wasm/libheif.wasm',
  jxl: '@jsquash/jxl/codec/dec/jxl_dec.wasm',
};

const decoders: Decoders = {
  engine: colorEngine,
  async wasm(of) {
    const { buffer } = new Uint8Array(await readFile(createRequire(import.meta.url).resolve(WASM[of])));
    return buffer;
  },
};

/**
 * Decodes a picture to 8 bits a channel, turned as its EXIF says. The numbers stay as they are in the file and come with
 * the space they are in, as they do in the browser; only profiles of tables are applied here, towards sRGB.
 * @throws FormatError naming the file
 */
export async function decodePicture(name: string, bytes: Uint8Array): Promise<Picture> {
  if (bytes.length === 0) throw new FormatError(`${name}: the file is empty (0 bytes).`);
  const type = pictureType(bytes);
  const { space, note } = spaceOf(bytes, type);
  try {
    const here = await decodeHere(new Uint8Array(bytes), type, decoders).catch((error) => {
      // a TIFF of a rare kind, which sharp may know
      if (type === 'TIFF' && !(error instanceof PictureRefusedError)) return null;
      throw error;
    });
    if (here) return { ...here, ...(note ? { note } : {}) };
    const options = { limitInputPixels: MAX_PIXELS, ignoreIcc: space !== null, sequentialRead: true };
    const { orientation = 1 } = await sharp(bytes, options).metadata();
    // to turn a picture is to hold all of it
    const { data, info } = await (orientation > 1 ? sharp(bytes, options).rotate() : sharp(bytes, options))
      .toColourspace('srgb')
      .ensureAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    return {
      width: info.width,
      height: info.height,
      data: new Uint8Array(data.buffer, data.byteOffset, data.length),
      ...(space ? { space } : {}),
      ...(note ? { note } : {}),
    };
  } catch (error) {
    if (error instanceof PictureRefusedError) throw new FormatError(`${name}: ${error.message}`);
    const reason = error instanceof Error ? error.message.split('\n')[0] : String(error);
    throw new FormatError(
      /pixel limit/i.test(reason!)
        ? `${name}: the picture has more than 40 megapixels. Make a smaller copy first.`
        : `${name}: it does not decode as a picture (${reason}).`,
    );
  }
}
