import type { Picture } from './histogram.ts';
import { checkPixels } from './limits.ts';

// QOI as its published specification has it (version 1.0, 2022): a header of 14 bytes, and chunks of one to five.

const HEADER_BYTES = 14;
const [RGB, RGBA] = [0xfe, 0xff];
/** The most pixels that one chunk can stand for. */
const MAX_RUN = 62;

/**
 * Decodes a QOI.
 *
 * @throws PictureRefusedError for one that is too large; Error when it is damaged
 */
export function readQoi(bytes: Uint8Array): Picture & { isLinear: boolean } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < HEADER_BYTES) throw new Error('it is cut short');
  const [width, height] = [view.getUint32(4), view.getUint32(8)];
  if (width === 0 || height === 0) throw new Error('it has no size');
  checkPixels(width, height);
  const pixels = width * height;
  if (pixels > (bytes.length - HEADER_BYTES) * MAX_RUN) throw new Error('its pixels are not all there');
  const data = new Uint8ClampedArray(4 * pixels);
  const seen = new Uint8Array(4 * 64);
  let [r, g, b, a] = [0, 0, 0, 255];
  let run = 0;
  for (let i = 0, at = HEADER_BYTES; i < pixels; i++) {
    if (run > 0) run--;
    else {
      const mark = bytes[at++];
      if (mark === undefined) throw new Error('its pixels are not all there');
      if (mark === RGB || mark === RGBA) {
        [r, g, b] = [bytes[at]!, bytes[at + 1]!, bytes[at + 2]!];
        if (mark === RGBA) a = bytes[at + 3]!;
        at += mark === RGB ? 3 : 4;
      } else if (mark >> 6 === 0) [r = 0, g = 0, b = 0, a = 0] = seen.subarray(4 * mark, 4 * mark + 4);
      else if (mark >> 6 === 1) {
        r += ((mark >> 4) & 3) - 2;
        g += ((mark >> 2) & 3) - 2;
        b += (mark & 3) - 2;
      } else if (mark >> 6 === 2) {
        const green = (mark & 63) - 32;
        const more = bytes[at++]!;
        r += green - 8 + (more >> 4);
        g += green;
        b += green - 8 + (more & 15);
      } else run = mark & 63;
      if (at > bytes.length) throw new Error('its pixels are not all there');
      [r, g, b] = [r & 255, g & 255, b & 255];
      seen.set([r, g, b, a], 4 * ((r * 3 + g * 5 + b * 7 + a * 11) % 64));
    }
    data.set([r, g, b, a], 4 * i);
  }
  return { width, height, data, isLinear: bytes[13] === 1 };
}
