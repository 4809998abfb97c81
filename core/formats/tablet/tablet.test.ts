import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { carried, conditionIn, convert, deltaE00, hashOf, toLab } from '../../color/index.ts';
import { embeddedProfile } from '../../picture/index.ts';
import { countingIds, type Library } from '../../swatch/model.ts';
import { coated, engine, fleet, readBy, services } from '../../testing.ts';
import { tablet } from './tablet.ts';

const inside = (bytes: Uint8Array) => JSON.parse(strFromU8(unzipSync(bytes)['Swatches.json']));
const archive = (content: unknown) => zipSync({ 'Swatches.json': strToU8(JSON.stringify(content)) });
const newId = countingIds();
const many = (n: number): Library => ({
  id: 'l',
  name: 'Sea',
  groups: [
    {
      id: 'g',
      name: 'Waves',
      swatches: Array.from({ length: n }, (_, i) => ({
        id: newId(),
        name: '',
        kind: 'process',
        color: { space: 'hsb', components: [i, 0.5, 1] },
      })),
    },
  ],
});

describe('tablet archive', () => {
  it('holds palettes of 30 places, hue, saturation and brightness from 0 to 1', () => {
    const [loose, hull] = inside(tablet.encode(fleet, services));
    expect([loose.name, hull.name]).toEqual(['Fleet livery', 'Hull']);
    expect(hull.swatches.length).toBe(30);
    // magenta as coated paper shows it
    const [h, s, b] = convert(fleet.groups[1].swatches[2].color, 'hsb', coated).components;
    expect(hull.swatches[2]).toEqual({
      hue: h / 360,
      saturation: s,
      brightness: b,
      alpha: 1,
      colorSpace: 0,
    });
    expect(hull.swatches.slice(3)).toEqual(Array(27).fill(null));
  });

  it('splits more than 30 colours into numbered palettes and loses none', () => {
    const palettes = inside(tablet.encode(many(65), services));
    expect(palettes.map((p: { name: string }) => p.name)).toEqual(['Waves', 'Waves 2', 'Waves 3']);
    const { library, swatches } = readBy(tablet, tablet.encode(many(65), services));
    expect(library.groups.slice(-3).map((g) => g.swatches.length)).toEqual([30, 30, 5]);
    expect(swatches.map((s) => Math.round(s.color.components[0]))).toEqual(
      Array.from({ length: 65 }, (_, i) => i),
    );
  });

  it('keeps empty places where they are', () => {
    const color = { hue: 0.5, saturation: 1, brightness: 0.5 };
    const source = archive([{ name: 'Gaps', swatches: [null, null, color, null, color] }]);
    const { library, swatches } = readBy(tablet, source);
    expect(swatches.map((s) => s.gap)).toEqual([2, 1]);
    const again = inside(tablet.encode(library, services)).find(
      (p: { name: string }) => p.name === 'Gaps',
    ).swatches;
    expect(again.slice(0, 5).map((p: unknown) => p !== null)).toEqual([false, false, true, false, true]);
  });

  it('reads several palettes in one file, and a single one not in a list', () => {
    const palette = { name: 'A', swatches: [{ hue: 0, saturation: 1, brightness: 1 }] };
    expect(readBy(tablet, archive([palette, { ...palette, name: 'B' }])).lines).toEqual([
      'A |  #ff0000',
      'B |  #ff0000',
    ]);
    expect(readBy(tablet, archive(palette)).lines).toEqual(['A |  #ff0000']);
  });

  it('says what is wrong and where', () => {
    const bad = { name: 'A', swatches: [{ hue: 7, saturation: 1, brightness: 1 }] };
    expect(() => readBy(tablet, archive([bad]))).toThrow(/place 1 of palette 1 of 1 is not a colour/);
    expect(() => readBy(tablet, archive([{ name: 'A' }]))).toThrow(/palette 1 of 1 has no list/);
    expect(() => readBy(tablet, zipSync({ 'Swatches.json': strToU8('[{') }))).toThrow(/JSON is damaged/);
  });

  it('reads colours through the profile they name, as that profile has them', async () => {
    const png = await sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } })
      .png()
      .withIccProfile('p3')
      .toBuffer();
    // a version 4 profile of libvips
    const icc = embeddedProfile(png, 'PNG')!;
    const colorProfiles = [
      { hash: 'a', iccName: 'Display P3', iccData: Buffer.from(icc).toString('base64') },
    ];
    const green = { hue: 1 / 3, saturation: 1, brightness: 1, colorProfile: 'a' };
    const { swatches, warnings } = readBy(
      tablet,
      archive([{ name: 'Wide', colorProfiles, swatches: [green, { ...green, colorProfile: undefined }] }]),
    );
    expect(warnings.join()).toMatch(/through the profile it brings, “Display P3”/);
    const [wide, plain] = swatches.map((s) => s.color);
    expect([wide.space, wide.profile, plain.space]).toEqual(['rgb', hashOf(icc), 'hsb']);
    engine.add(icc);
    const condition = conditionIn(engine, coated.setting);
    const p3 = toLab({ space: 'p3', components: [0, 1, 0] }, condition);
    expect(deltaE00(toLab(wide, condition), p3)).toBeLessThan(0.3);
    // where RGB is sRGB it is brought inside, and told
    expect(carried(wide, ['rgb'], condition).profile).toBeUndefined();
    engine.remove(hashOf(icc));
  });

  it('leaves out a profile that is none, and keeps the colours', () => {
    const colorProfiles = [{ hash: 'a', iccName: 'Torn', iccData: 'AAAA' }, { hash: 'b', iccData: '%%%' }, 7];
    const place = { hue: 0, saturation: 1, brightness: 1, colorProfile: 'a' };
    const { lines, warnings } = readBy(tablet, archive([{ name: 'A', colorProfiles, swatches: [place] }]));
    expect(lines).toEqual(['A |  #ff0000']);
    expect(warnings.join()).toMatch(/“Torn” in it was left out: it is no ICC profile/);
  });
});
