import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import * as fontkit from 'fontkit';
import sharp from 'sharp';
import type { Condition } from '../core/color/index.ts';
import {
  chipLabel,
  type Face,
  type LoadFont,
  type PixelSheet,
  type Typesetting,
} from '../core/formats/index.ts';

const { resolve } = createRequire(import.meta.url);
const fontFile = (package_: string, part: string, weight = 400) =>
  resolve(`@fontsource/${package_}/files/${package_}-${part}-${weight}-normal.woff`);
const ownFile = (name: string) => new URL(`../fonts/${name}-400-normal.woff`, import.meta.url);
const FONTS: Record<Face, () => string | URL> = {
  regular: () => fontFile('hanken-grotesk', 'latin'),
  semibold: () => fontFile('hanken-grotesk', 'latin', 600),
  mono: () => fontFile('spline-sans-mono', 'latin'),
  'latin-ext': () => fontFile('hanken-grotesk', 'latin-ext'),
  vietnamese: () => fontFile('hanken-grotesk', 'vietnamese'),
  'latin-ext-semibold': () => fontFile('hanken-grotesk', 'latin-ext', 600),
  'vietnamese-semibold': () => fontFile('hanken-grotesk', 'vietnamese', 600),
  greek: () => fontFile('noto-sans', 'greek'),
  cyrillic: () => fontFile('noto-sans', 'cyrillic'),
  'cyrillic-ext': () => fontFile('noto-sans', 'cyrillic-ext'),
  hebrew: () => fontFile('noto-sans-hebrew', 'hebrew'),
  arabic: () => fontFile('noto-sans-arabic', 'arabic'),
  devanagari: () => fontFile('noto-sans-devanagari', 'devanagari'),
  thai: () => fontFile('noto-sans-thai', 'thai'),
  japanese: () => ownFile('noto-sans-jp-japanese'),
  chinese: () => ownFile('noto-sans-sc-chinese-simplified'),
  korean: () => ownFile('noto-sans-kr-korean'),
};

/** The fonts that ship with the app. */
export const loadFont: LoadFont = (font) => readFile(FONTS[font]());

const PADDING = 3;
/** Where between two pixels a letter may stand. */
const PARTS = 4;

/** A letter as how much ink lies on each pixel, 0–255. */
interface Ink {
  width: number;
  height: number;
  data: Uint8Array;
  /** From the pen to its left, and from the line to its top. */
  left: number;
  top: number;
}

/** The letters of a font in one size, each drawn once for each part of a pixel it stands on. */
class Letters {
  private readonly glyphs = new Map<number, fontkit.Glyph>();
  private readonly inks = new Map<string, Ink>();
  private readonly wanted = new Map<string, { glyph: fontkit.Glyph; part: number }>();
  private readonly scale: number;

  constructor(
    private readonly font: fontkit.Font,
    size: number,
  ) {
    this.scale = size / font.unitsPerEm;
  }

  /** Where each letter of a line stands, cut where the room ends; letters the font does not have are its empty box. */
  place(text: string, x: number, room: number): { key: string; at: number }[] {
    let pen = 0;
    const placed: { key: string; at: number }[] = [];
    for (const letter of text.slice(0, 200).replace(/\s/g, ' ')) {
      const code = letter.codePointAt(0)!;
      let glyph = this.glyphs.get(code);
      if (!glyph) {
        glyph = this.font.glyphForCodePoint(code);
        this.glyphs.set(code, glyph);
      }
      const advance = glyph.advanceWidth * this.scale;
      if (pen + advance > room) break;
      const quarter = Math.round((x + pen) * PARTS);
      const part = quarter % PARTS;
      const key = `${glyph.id} ${part}`;
      if (!this.wanted.has(key)) this.wanted.set(key, { glyph, part });
      placed.push({ key, at: (quarter - part) / PARTS });
      pen += advance;
    }
    return placed;
  }

  /** Draws every letter that was placed. */
  async draw(): Promise<void> {
    for (const [key, { glyph, part }] of this.wanted) {
      const { minX, minY, maxX, maxY } = glyph.bbox;
      const left = Math.floor(minX * this.scale) - 1;
      const top = Math.floor(-maxY * this.scale) - 1;
      const width = Math.ceil(maxX * this.scale) + 2 - left;
      const height = Math.ceil(-minY * this.scale) + 1 - top;
      if (!Number.isFinite(width + height) || width <= 0 || height <= 0) continue;
      const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><path transform="translate(${part / PARTS - left} ${-top}) scale(${this.scale} ${-this.scale})" d="${glyph.path.toSVG()}"/></svg>`;
      const data = await sharp(Buffer.from(svg)).ensureAlpha().extractChannel('alpha').raw().toBuffer();
      this.inks.set(key, { width, height, data, left, top });
    }
  }

  ink(key: string): Ink | undefined {
    return this.inks.get(key);
  }
}

/** Sets the names of a sheet with the fonts that ship with the app, wherever it runs. */
async function drawLabels(
  sheet: PixelSheet,
  data: Uint8ClampedArray<ArrayBuffer>,
  condition: Condition,
): Promise<Uint8ClampedArray> {
  const [names, codes] = await Promise.all(
    (
      [
        ['semibold', 11],
        ['mono', 10],
      ] as const
    ).map(
      async ([f, size]) => new Letters(fontkit.create(Buffer.from(await loadFont(f))) as fontkit.Font, size),
    ),
  );
  const room = sheet.chip - 2 * PADDING;
  const lines = sheet.chips.flatMap((chip) => {
    const { name, code } = chipLabel(chip, condition);
    const x = chip.column * sheet.chip + PADDING;
    const top = chip.row * (sheet.chip + sheet.strip) + sheet.chip;
    return [
      { letters: names!, line: top + 13, placed: names!.place(name, x, room) },
      { letters: codes!, line: top + 27, placed: codes!.place(code, x, room) },
    ];
  });
  await Promise.all([names!.draw(), codes!.draw()]);
  for (const { letters, line, placed } of lines)
    for (const { key, at } of placed) {
      const ink = letters.ink(key);
      if (ink) lay(ink, at + ink.left, line + ink.top, sheet, data);
    }
  return data;
}

/** Lays black ink on the paper of a sheet. */
function lay(ink: Ink, x: number, y: number, { width, height }: PixelSheet, data: Uint8ClampedArray): void {
  for (let row = Math.max(0, -y); row < ink.height && y + row < height; row++)
    for (let column = Math.max(0, -x); column < ink.width && x + column < width; column++) {
      const amount = ink.data[row * ink.width + column]!;
      if (amount === 0) continue;
      const at = 4 * ((y + row) * width + x + column);
      // letters that touch do not lighten each other
      const left = Math.min(data[at]!, 255 - amount);
      data.fill(left, at, at + 3);
    }
}

export const typesetting: Typesetting = { loadFont, drawLabels };
