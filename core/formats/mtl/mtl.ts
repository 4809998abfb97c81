import { toRgb } from '../../color/index.ts';
import { allSwatches } from '../../swatch/model.ts';
import { textDecoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { PlainFormat } from '../format.ts';
import { linesOf, readText, short, uniquely, writeText } from '../text.ts';

export const mtl: PlainFormat = {
  id: 'mtl',
  name: 'MTL',
  about: 'Materials of OBJ models, one per swatch, for 3D programs. Keeps names without blanks, RGB.',
  endings: ['mtl'],
  mime: 'model/mtl',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 20,
  },

  recognise(bytes) {
    const text = readText(bytes.subarray(0, 65536));
    return text && /^[ \t]*newmtl[ \t]/m.test(text) ? 0.9 : 0;
  },

  decode: textDecoder((text, draft) => {
    let name: string | null = null;
    let color: number[] | null = null;
    let alpha = 1;
    const without: string[] = [];
    const finish = () => {
      if (name === null) return;
      if (color)
        draft.add({ name, color: { space: 'rgb', components: color }, ...(alpha < 1 ? { alpha } : {}) });
      else without.push(name);
    };
    let n = 0;
    for (const line of linesOf(text)) {
      n++;
      const [key, ...words] = line.trim().split(/\s+/, 5);
      if (key === 'newmtl') {
        finish();
        [name, color, alpha] = [line.trim().slice(7).trim(), null, 1];
      } else if (key === 'Kd') {
        // one number stands for three; a spectral file or XYZ is something else
        if (words[0] === 'spectral' || words[0] === 'xyz') continue;
        const values = words.slice(0, 3).map(Number);
        if (values.length === 0 || !values.every((v) => Number.isFinite(v) && v >= 0 && v <= 100))
          throw new FormatError(
            `line ${n} (“${line.trim().slice(0, 40)}”) is no colour: three numbers from 0 to 1 should stand there.`,
          );
        color = [values[0], values[1] ?? values[0], values[2] ?? values[0]];
      } else if (key === 'd' && Number(words[0]) >= 0 && Number(words[0]) <= 1) alpha = Number(words[0]);
      else if (key === 'Tr' && Number(words[0]) >= 0 && Number(words[0]) <= 1) alpha = 1 - Number(words[0]);
    }
    finish();
    if (without.length > 0)
      draft.warn(
        `Without a diffuse colour (Kd), so left out: ${without.slice(0, 8).join(', ')}${without.length > 8 ? '…' : ''}.`,
      );
  }),

  encode(library, { condition }) {
    const unique = uniquely('_');
    const materials = allSwatches(library).map(({ name, color, alpha }) => {
      const own = unique(
        name
          .toWellFormed()
          .trim()
          .replace(/[\s\0-\x1f\x7f]+/g, '_')
          .replace(/^#/, '_') || 'swatch',
      );
      const rgb = toRgb(color, condition).map((v) => short(Math.min(1, Math.max(0, v)), 6));
      return `newmtl ${own}\nKd ${rgb.join(' ')}\n${alpha === undefined || alpha === 1 ? '' : `d ${alpha}\n`}illum 1\n\n`;
    });
    return writeText(materials.join(''));
  },
};
