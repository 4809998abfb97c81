import type { Heif } from 'libheif-js/libheif-wasm/libheif.js';
import { checkPixels } from './limits.ts';

let loading: Promise<Heif> | null = null;

/** The decoder; its module is large and loaded with the first picture. @param wasm gives its WebAssembly */
function load(wasm: () => Promise<ArrayBuffer>): Promise<Heif> {
  loading ??= (async () => {
    const [{ default: open }, wasmBinary] = await Promise.all([
      import('libheif-js/libheif-wasm/libheif.js'),
      wasm(),
    ]);
    // what it has to say of damaged files is not for the console
    const heif = open({ wasmBinary, print: () => undefined, printErr: () => undefined });
    await heif.ready;
    return heif;
  })();
  loading.catch(() => {
    loading = null;
  });
  return loading;
}

/** An image as RGBA, four bytes a pixel. */
interface Decoded {
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

/**
 * Decodes the main image of a HEIC (ISO/IEC 23008-12, coded as HEVC) to 8 bits a channel, turned as it says. Its numbers
 * stay in the space they are in.
 *
 * @throws PictureRefusedError for one that is too large; Error when it is damaged
 */
export async function readHeic(bytes: Uint8Array, wasm: () => Promise<ArrayBuffer>): Promise<Decoded> {
  const heif = await load(wasm);
  const context = heif.heif_context_alloc();
  try {
    const read = heif.heif_context_read_from_memory(context, bytes);
    if (read.code !== heif.heif_error_code.heif_error_Ok) throw new Error(read.message);
    const handle = heif.heif_js_context_get_primary_image_handle(context);
    if (!handle || 'code' in handle) throw new Error('it has no main image');
    try {
      checkPixels(heif.heif_image_handle_get_width(handle), heif.heif_image_handle_get_height(handle));
      const image = await heif.heif_js_decode_image2(
        handle,
        heif.heif_colorspace.heif_colorspace_RGB,
        heif.heif_chroma.heif_chroma_interleaved_RGBA,
      );
      if (!image || 'code' in image) throw new Error('its pixels are damaged');
      try {
        const plane = image.channels.find((c) => c.id === heif.heif_channel.heif_channel_interleaved);
        if (!plane) throw new Error('its pixels are missing');
        const { width, height, stride } = plane;
        const data = new Uint8ClampedArray(4 * width * height);
        for (let y = 0; y < height; y++)
          data.set(plane.data.subarray(y * stride, y * stride + 4 * width), 4 * y * width);
        return { width, height, data };
      } finally {
        heif.heif_image_release(image.image);
      }
    } finally {
      heif.heif_image_handle_release(handle);
    }
  } finally {
    heif.heif_context_free(context);
  }
}
