import regular from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-400-normal.woff?url';
import semibold from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-600-normal.woff?url';
import latinExt from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-ext-400-normal.woff?url';
import latinExtSemibold from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-ext-600-normal.woff?url';
import vietnamese from '@fontsource/hanken-grotesk/files/hanken-grotesk-vietnamese-400-normal.woff?url';
import vietnameseSemibold from '@fontsource/hanken-grotesk/files/hanken-grotesk-vietnamese-600-normal.woff?url';
import cyrillic from '@fontsource/noto-sans/files/noto-sans-cyrillic-400-normal.woff?url';
import cyrillicExt from '@fontsource/noto-sans/files/noto-sans-cyrillic-ext-400-normal.woff?url';
import greek from '@fontsource/noto-sans/files/noto-sans-greek-400-normal.woff?url';
import arabic from '@fontsource/noto-sans-arabic/files/noto-sans-arabic-arabic-400-normal.woff?url';
import devanagari from '@fontsource/noto-sans-devanagari/files/noto-sans-devanagari-devanagari-400-normal.woff?url';
import hebrew from '@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal.woff?url';
import thai from '@fontsource/noto-sans-thai/files/noto-sans-thai-thai-400-normal.woff?url';
import mono from '@fontsource/spline-sans-mono/files/spline-sans-mono-latin-400-normal.woff?url';
import type { Condition } from '#core/color/index';
import { chipLabel, type Face, type LoadFont, type PixelSheet, type Typesetting } from '#core/formats/index';
import japanese from '../../fonts/noto-sans-jp-japanese-400-normal.woff?url';
import korean from '../../fonts/noto-sans-kr-korean-400-normal.woff?url';
import chinese from '../../fonts/noto-sans-sc-chinese-simplified-400-normal.woff?url';

const urls: Record<Face, string> = {
  ...{
    regular,
    semibold,
    mono,
    vietnamese,
    greek,
    cyrillic,
    hebrew,
    arabic,
    devanagari,
    thai,
    japanese,
    chinese,
    korean,
  },
  'latin-ext': latinExt,
  'latin-ext-semibold': latinExtSemibold,
  'vietnamese-semibold': vietnameseSemibold,
  'cyrillic-ext': cyrillicExt,
};
const PADDING = 3;

/** Type for sheets, in a worker: the shipped fonts, each fetched once, and the system's for letters they do not have. */
export function makeTypesetting(): Typesetting {
  const loaded = new Map<string, Promise<Uint8Array>>();
  const loadFont: LoadFont = (font) => {
    let bytes = loaded.get(font);
    if (!bytes) {
      bytes = fetch(urls[font]).then(async (response) => {
        if (!response.ok) throw new Error('A font could not be loaded. Check the connection and try again.');
        return new Uint8Array(await response.arrayBuffer());
      });
      bytes.catch(() => loaded.delete(font));
      loaded.set(font, bytes);
    }
    return bytes;
  };

  let faces: Promise<void> | null = null;
  /** Makes the fonts known to the worker's canvas. */
  const ready = (): Promise<void> => {
    const fonts = Reflect.get(self, 'fonts') as FontFaceSet;
    faces ??= Promise.all(
      (
        [
          ['Sheet name', 'semibold'],
          ['Sheet code', 'mono'],
        ] as const
      ).map(async ([family, font]) => {
        const face = new FontFace(family, (await loadFont(font)).slice().buffer);
        fonts.add(await face.load());
      }),
    ).then(() => undefined);
    return faces;
  };

  return {
    loadFont,
    drawLabels: async (sheet, data, condition) => {
      await ready();
      return drawLabels(sheet, data, condition);
    },
  };
}

/** Writes the names under the chips of a sheet into its pixels. */
function drawLabels(
  sheet: PixelSheet,
  data: Uint8ClampedArray<ArrayBuffer>,
  condition: Condition,
): Uint8ClampedArray {
  const canvas = new OffscreenCanvas(sheet.width, sheet.height);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  // a sheet larger than this browser's canvas keeps its colours and goes without names
  if (!context) return data;
  context.putImageData(new ImageData(data, sheet.width, sheet.height), 0, 0);
  context.fillStyle = '#000';
  for (const chip of sheet.chips) {
    const { name, code } = chipLabel(chip, condition);
    const left = chip.column * sheet.chip;
    const top = chip.row * (sheet.chip + sheet.strip) + sheet.chip;
    context.save();
    context.beginPath();
    context.rect(left, top, sheet.chip - PADDING, sheet.strip);
    context.clip();
    context.font = '11px "Sheet name", sans-serif';
    context.fillText(name.slice(0, 200), left + PADDING, top + 13);
    context.font = '10px "Sheet code", monospace';
    context.fillText(code, left + PADDING, top + 27);
    context.restore();
  }
  return context.getImageData(0, 0, sheet.width, sheet.height).data;
}
