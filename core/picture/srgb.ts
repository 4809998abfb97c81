import type { Picture } from './histogram.ts';
import { colorOfPixel, SRGB } from './space.ts';

/** What a picture is in sRGB: its pixels, and how many of its colours sRGB cannot hold. */
export interface InSrgb {
  picture: Picture;
  /** The space they were in; null when it was sRGB. */
  from: string | null;
  /** Colours outside sRGB, which have its nearest edge. */
  outside: number;
}

/** How far outside 0–1 a value lies that eight bits would show. */
const NOTICEABLE = 0.5 / 255;

/** Warnings about a picture that was converted to sRGB. */
export const warningOf = ({ from, outside }: InSrgb): string[] =>
  from === null
    ? []
    : [
        `Its pixels are in ${from}; they were converted to sRGB, in which it goes out.${
          outside === 0
            ? ''
            : ` ${outside === 1 ? 'One colour lies' : `${outside} colours lie`} outside sRGB and became the nearest at its edge.`
        }`,
      ];

/** The pixels of a picture in sRGB, each colour converted once. */
export function inSrgb(picture: Picture): InSrgb {
  const { space, data, width, height } = picture;
  if (!space || space.name === SRGB.name) return { picture, from: null, outside: 0 };
  const channels = data.length / (width * height);
  const known = new Map<number, number>();
  let outside = 0;
  const converted = data.slice();
  for (let i = 0; i < data.length; i += channels) {
    // what is not seen has no colour
    if (channels === 4 && data[i + 3] === 0) continue;
    const key = (data[i]! << 16) | (data[i + 1]! << 8) | data[i + 2]!;
    let value = known.get(key);
    if (value === undefined) {
      const { components } = colorOfPixel(data.subarray(i, i + 3), space);
      if (components.some((v) => v < -NOTICEABLE || v > 1 + NOTICEABLE)) outside++;
      const [r, g, b] = components.map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))) as [
        number,
        number,
        number,
      ];
      value = (r << 16) | (g << 8) | b;
      known.set(key, value);
    }
    converted[i] = value >> 16;
    converted[i + 1] = (value >> 8) & 255;
    converted[i + 2] = value & 255;
  }
  return { picture: { width, height, data: converted }, from: space.name, outside };
}
