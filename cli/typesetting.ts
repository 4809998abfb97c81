import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import * as fontkit from 'fontkit';
import sharp from 'sharp';
import type { Condition } from '../core/color/index.ts';
import { chipLabel, type LoadFont, type PixelSheet, type Typesetting } from '../core/formats/index.ts';

const { resolve } = createRequire(import.meta.url);
const FONTS = {
  regular: '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-400-normal.woff',
  semibold: '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-600-normal.woff',
  mono: '@fontsource/spline-sans-mono/files/spline-sans-mono-latin-400-normal.woff',
};

/** The fonts that ship with the app, from the installed packages. */
export const loadFont: LoadFont = (font) => readFile(resolve(FONTS[font]));

const PADDING = 3;

/** One line of type as outlines, cut where the room ends. */
function outlines(
  font: fontkit.Font,
  text: string,
  size: number,
  x: number,
  baseline: number,
  room: number,
): string {
  const scale = size / font.unitsPerEm;
  let at = 0;
  const paths: string[] = [];
  // letters the font does not have are drawn as its empty box
  for (const glyph of font.layout(text.slice(0, 200).replace(/\s/g, ' ')).glyphs) {
    if ((at + glyph.advanceWidth) * scale > room) break;
    paths.push(
      `<path transform="translate(${x + at * scale} ${baseline}) scale(${scale} ${-scale})" d="${glyph.path.toSVG()}"/>`,
    );
    at += glyph.advanceWidth;
  }
  return paths.join('');
}

/** Sets the names of a sheet with the fonts that ship with the app, wherever it runs. */
async function drawLabels(
  sheet: PixelSheet,
  data: Uint8ClampedArray<ArrayBuffer>,
  condition: Condition,
): Promise<Uint8ClampedArray> {
  const [semibold, mono] = await Promise.all(
    (['semibold', 'mono'] as const).map(
      async (f) => fontkit.create(Buffer.from(await loadFont(f))) as fontkit.Font,
    ),
  );
  const room = sheet.chip - 2 * PADDING;
  const lines = sheet.chips.map((chip) => {
    const { name, code } = chipLabel(chip, condition);
    const x = chip.column * sheet.chip + PADDING;
    const top = chip.row * (sheet.chip + sheet.strip) + sheet.chip;
    return outlines(semibold!, name, 11, x, top + 13, room) + outlines(mono!, code, 10, x, top + 27, room);
  });
  const ink = await sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${sheet.width}" height="${sheet.height}">${lines.join('')}</svg>`,
    ),
    { unlimited: true, limitInputPixels: false },
  )
    .ensureAlpha()
    .extractChannel('alpha')
    .raw()
    .toBuffer();
  ink.forEach((amount, i) => {
    if (amount > 0) data.fill(255 - amount, 4 * i, 4 * i + 3);
  });
  return data;
}

export const typesetting: Typesetting = { loadFont, drawLabels };
