import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { readArtwork, readFlat, recolored, recoloredPixels } from './index.ts';

/** What sharp paints (librsvg), smooth edges and all. */
async function pixels(svg: string) {
  const { data, info } = await sharp(Buffer.from(svg), { density: 144 })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="160" height="100" viewBox="0 0 160 100">
<rect width="160" height="100" fill="#e6dcc0"/><circle cx="50" cy="50" r="35" fill="#14304a"/>
<path d="M40 80q40 -90 90 -20q10 30 -60 30z" fill="#c8102e"/><g transform="rotate(12 120 30)"><rect x="100" y="15" width="40" height="25" fill="#2f7d6b"/></g>
<path d="M10 95L150 62" stroke="#101820" stroke-width="1" fill="none"/></svg>`;

describe('a picture of flat colours', () => {
  it('has the colours of the drawing it was made from, with their shares', async () => {
    const { colors } = readFlat(await pixels(drawing));
    expect(colors.map((c) => c.hex).sort()).toEqual(['#101820', '#14304a', '#2f7d6b', '#c8102e', '#e6dcc0']);
    expect(colors.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 6);
    // a rectangle of 40 by 25 on 160 by 100, under nothing
    expect(colors.find((c) => c.hex === '#2f7d6b')!.share).toBeCloseTo((40 * 25) / (160 * 100), 3);
  });

  it('looks recoloured as the drawing does that was recoloured before it was painted', async () => {
    const artwork = readArtwork(drawing);
    const changes: Record<string, string> = {
      '#e6dcc0': '#20303c',
      '#c8102e': '#d9a441',
      '#14304a': '#f3ecdf',
    };
    const parts = new Map(
      artwork.parts.flatMap((p) => {
        const hex = `#${p.color.components
          .map((v) =>
            Math.round(v * 255)
              .toString(16)
              .padStart(2, '0'),
          )
          .join('')}`;
        return changes[hex] ? [[p.id, changes[hex]!] as const] : [];
      }),
    );
    const wanted = await pixels(recolored(artwork, parts));
    const flat = readFlat(await pixels(drawing));
    const found = recoloredPixels(
      flat,
      new Map(flat.colors.flatMap((c, id) => (changes[c.hex] ? [[id, changes[c.hex]!] as const] : []))),
    );
    let [same, near] = [0, 0];
    const n = wanted.width * wanted.height;
    for (let i = 0; i < n; i++) {
      const off = Math.max(...[0, 1, 2].map((c) => Math.abs(found[4 * i + c]! - wanted.data[4 * i + c]!)));
      if (off <= 3) same++;
      if (off <= 24) near++;
    }
    // where three colours meet in one pixel it is a guess
    expect(same / n).toBeGreaterThan(0.99);
    expect(near / n).toBeGreaterThan(0.998);
  });

  it('keeps opacity, and what is not seen', async () => {
    const see = await pixels(
      '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><circle cx="20" cy="20" r="15" fill="#c8102e"/></svg>',
    );
    const flat = readFlat(see);
    expect(flat.colors.map((c) => c.hex)).toEqual(['#c8102e']);
    const found = recoloredPixels(flat, new Map([[0, '#14304a']]));
    const alpha = (data: Uint8Array) => data.filter((_, i) => i % 4 === 3);
    expect(alpha(found)).toEqual(alpha(see.data));
    const solid = [...found.keys()].filter((i) => i % 4 === 0 && found[i + 3]! > 60);
    for (const i of solid) expect([found[i], found[i + 1], found[i + 2]]).toEqual([0x14, 0x30, 0x4a]);
  });

  it.each(['rocket.jpg', 'chelsea.png'])(
    'that is a photograph is refused, and said why: %s',
    async (name) => {
      const path = fileURLToPath(new URL(`../../tests/photos/${name}`, import.meta.url));
      const { data, info } = await sharp(path).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      expect(() => readFlat({ width: info.width, height: info.height, data: new Uint8Array(data) })).toThrow(
        /not a flat drawing\. Gather a palette/,
      );
    },
  );

  it('of one pixel, and of thin lines alone, is read all the same', () => {
    expect(
      readFlat({ width: 1, height: 1, data: new Uint8Array([1, 2, 3]) }).colors.map((c) => c.hex),
    ).toEqual(['#010203']);
  });
});
