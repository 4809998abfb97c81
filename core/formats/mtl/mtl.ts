import { PLAIN_SURFACE, type Surface } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { linesOf, short, sniff, uniquely, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { type Material, Materials, materialsOf } from '../materials.ts';

/**
 * A surface as the old highlight (Ks and Ns, from roughness by the usual 2/α² − 2 with α = roughness²; B. Walter et al. 2007) and
 * as the physical extension that newer programs read (Pr, Pm; from memory).
 */
function shine(surface: Surface | undefined, rgb: string[]): string {
  if (!surface) return 'illum 1\n';
  const { roughness, metalness } = surface;
  const alpha = Math.max(0.03, roughness * roughness);
  const exponent = Math.min(1000, Math.max(0, 2 / (alpha * alpha) - 2));
  // paint mirrors 4 % of white, metal its own colour
  const mirrored = rgb.map((v) => short(0.04 + (Number(v) - 0.04) * metalness, 6));
  return `Ks ${mirrored.join(' ')}\nNs ${short(exponent, 3)}\nPr ${short(roughness, 4)}\nPm ${short(metalness, 4)}\nillum 2\n`;
}

/** The first line of what Papillon writes: its roles are in the library. */
const MARK = '# Papillon';

export const mtl: PlainFormat = {
  id: 'mtl',
  name: 'MTL',
  about:
    'Materials of OBJ models, one per swatch, for 3D programs. Keeps names without blanks, RGB, surfaces by role.',
  endings: ['mtl'],
  mime: 'model/mtl',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    surfaces: true,
    kinds: ['process'],
    spaces: ['rgb'],
    bits: 20,
  },

  recognise(bytes) {
    const text = sniff(bytes, 65536);
    return text && /^[ \t]*newmtl[ \t]/m.test(text) ? 0.9 : 0;
  },

  decode: textDecoder((text, draft) => {
    const materials = new Materials(draft, text.startsWith(MARK), PLAIN_SURFACE);
    let name: string | null = null;
    let color: number[] | null = null;
    let alpha = 1;
    let surface: Material['surface'];
    const without: string[] = [];
    const finish = () => {
      if (name === null) return;
      if (color) materials.add({ name, color: { space: 'rgb', components: color }, alpha, surface });
      else without.push(name);
    };
    let n = 0;
    for (const line of linesOf(text)) {
      n++;
      const [key, ...words] = line.trim().split(/\s+/, 5);
      const at = n;
      if (key === 'newmtl') {
        finish();
        [name, color, alpha, surface] = [line.trim().slice(7).trim(), null, 1, undefined];
      } else if (key === 'Kd') {
        // one number stands for three; a spectral file or XYZ is something else
        if (words[0] === 'spectral' || words[0] === 'xyz') continue;
        draft.attempt(() => {
          const values = words.slice(0, 3).map(Number);
          if (values.length === 0 || !values.every((v) => v >= 0 && v <= 1))
            throw new FormatError(
              `line ${at} (“${line.trim().slice(0, 40)}”) is not a colour: three numbers from 0 to 1 should stand there.`,
            );
          color = [values[0]!, values[1] ?? values[0]!, values[2] ?? values[0]!];
        });
        // it has been told why
        if (!color) name = null;
      } else if (key === 'd' && Number(words[0]) >= 0 && Number(words[0]) <= 1) alpha = Number(words[0]);
      else if (key === 'Tr' && Number(words[0]) >= 0 && Number(words[0]) <= 1) alpha = 1 - Number(words[0]);
      else if (key === 'Pr' || key === 'Pm') {
        const value = Number(words[0]);
        if (words[0] && value >= 0 && value <= 1)
          surface = { ...surface, [key === 'Pr' ? 'roughness' : 'metalness']: value };
      } else if (key === 'map_Kd') materials.isPictured();
    }
    finish();
    materials.done();
    if (without.length > 0)
      draft.warn(
        `Without a diffuse colour (Kd), so left out: ${without.slice(0, 8).join(', ')}${without.length > 8 ? '…' : ''}.`,
      );
  }),

  encode(library, { condition }) {
    const unique = uniquely('_');
    const materials = materialsOf(library, condition).map(({ name, rgb, alpha, surface }) => {
      const own = unique(
        name
          .toWellFormed()
          .trim()
          .replace(/[\s\0-\x1f\x7f]+/g, '_')
          .replace(/^#/, '_') || 'swatch',
      );
      const diffuse = rgb.map((v) => short(v, 6));
      const opacity = alpha === 1 ? '' : `d ${alpha}\n`;
      return `newmtl ${own}\nKd ${diffuse.join(' ')}\n${opacity}${shine(surface, diffuse)}\n`;
    });
    return writeText(`${MARK}\n${materials.join('')}`);
  },
};
