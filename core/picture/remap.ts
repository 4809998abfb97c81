import type { Color, Lab } from '../color/index.ts';
import { DE76, NearIndex, screenOnly, toOpenRgb, toRgb8 } from '../color/index.ts';
import { OPAQUE, type Picture, words } from './histogram.ts';
import { toPerceptual } from './perceptual.ts';
import { linearToSrgb, lookUp, multiply, pixelOfColor, SRGB } from './space.ts';

const BITS = 6;
const SHIFT = 8 - BITS;
const CELLS = 1 << (3 * BITS);

/** Turns pixels into others, for a screen: 8-bit sRGB with alpha. */
export type Painter = (pixels: Uint32Array) => Uint8ClampedArray<ArrayBuffer>;

/**
 * Draws pixels of a picture with a palette: each takes its nearest colour, without dithering. The nearest colour is looked
 * up once for each cell of 6 bits a channel, and remembered; transparent pixels stay transparent.
 */
export function painterWith(palette: readonly Color[], space = SRGB): Painter {
  // in this space plain distance follows CIEDE2000 closely enough for drawing, and takes a tenth of the time
  const index = new NearIndex(
    palette.map(
      (color) => [...toPerceptual(pixelOfColor(toOpenRgb(color, screenOnly), space), space)] as Lab,
    ),
    DE76,
  );
  const shown = palette.map((color) => {
    const [r, g, b] = toRgb8(color, screenOnly);
    return (0xff000000 | (b << 16) | (g << 8) | r) >>> 0;
  });
  const cells = new Int16Array(CELLS).fill(-1);
  return (pixels) => {
    const out = new Uint8ClampedArray(4 * pixels.length);
    if (palette.length === 0) return out;
    const target = new Uint32Array(out.buffer);
    for (let i = 0; i < pixels.length; i++) {
      const p = pixels[i];
      if (p >>> 24 < OPAQUE) continue;
      const cell = cellOf(p);
      if (cells[cell] < 0) {
        const [x, y, z] = toPerceptual([p & 255, (p >>> 8) & 255, (p >>> 16) & 255], space);
        cells[cell] = index.closest([x, y, z])!.place;
      }
      target[i] = shown[cells[cell]];
    }
    return out;
  };
}

/** Shows pixels as they are; those of wide spaces are brought to sRGB, clipped. */
export function painterAsIs(space = SRGB): Painter {
  if (space.name === SRGB.name) return (pixels) => new Uint8ClampedArray(new Uint32Array(pixels).buffer);
  const [red, green, blue] = space.curves;
  // 12 bits of light are finer than the eight that are shown, but for the darkest
  const encode = Uint8Array.from({ length: 4096 }, (_, v) => Math.round(255 * linearToSrgb(v / 4095)));
  const byte = (light: number) => encode[Math.round(4095 * Math.min(1, Math.max(0, light)))];
  return (pixels) => {
    const out = new Uint8ClampedArray(4 * pixels.length);
    for (let i = 0; i < pixels.length; i++) {
      const p = pixels[i];
      const light = multiply(space.toSrgb, [
        lookUp(red, p & 255),
        lookUp(green, (p >>> 8) & 255),
        lookUp(blue, (p >>> 16) & 255),
      ]);
      for (let c = 0; c < 3; c++) out[4 * i + c] = byte(light[c]);
      out[4 * i + 3] = p >>> 24;
    }
    return out;
  };
}

const cellOf = (p: number) =>
  (((p & 255) >> SHIFT) << (2 * BITS)) |
  ((((p >>> 8) & 255) >> SHIFT) << BITS) |
  (((p >>> 16) & 255) >> SHIFT);

/** A part of a picture and the size it is shown at, px; the part may reach beyond the picture. */
export interface View {
  x: number;
  y: number;
  width: number;
  height: number;
  outWidth: number;
  outHeight: number;
}

/** The pixels of a view, each the one that lies under the middle of the shown pixel; 0 beyond the picture. */
export function pixelsIn(picture: Picture, view: View): Uint32Array {
  const source = words(picture);
  const out = new Uint32Array(view.outWidth * view.outHeight);
  const column = Int32Array.from({ length: view.outWidth }, (_, x) =>
    Math.floor(view.x + ((x + 0.5) * view.width) / view.outWidth),
  );
  for (let y = 0; y < view.outHeight; y++) {
    const row = Math.floor(view.y + ((y + 0.5) * view.height) / view.outHeight);
    if (row < 0 || row >= picture.height) continue;
    for (let x = 0; x < view.outWidth; x++) {
      const from = column[x];
      if (from >= 0 && from < picture.width) out[y * view.outWidth + x] = source[row * picture.width + from];
    }
  }
  return out;
}
