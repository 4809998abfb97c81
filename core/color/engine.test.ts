import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { findShared } from '../../scripts/tools.mjs';
import { cgats } from '../formats/cgats/cgats.ts';
import { coated, engine, fleet, readBy, uncoated } from '../testing.ts';
import {
  type Color,
  conditionIn,
  convert,
  deltaE00,
  INTENTS,
  type Intent,
  type Lab,
  MAX_PROFILE_BYTES,
  MEASURED,
  mannerOf,
  type ProfileError,
  SHIPPED,
  screenOnly,
  toHex,
  toLab,
} from './index.ts';

const path = (name: string) => fileURLToPath(new URL(`../../profiles/${name}`, import.meta.url));
const FILES = { coated: path('coated-offset.icc'), uncoated: path('uncoated-offset.icc') };
const cmyk = (...percent: number[]): Color => ({ space: 'cmyk', components: percent.map((v) => v / 100) });
const deltaE76 = (a: number[], b: number[]) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** The same numbers in every run. */
function* random(seed: number): Generator<number> {
  for (let state = seed; ; ) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    yield state / 2 ** 32;
  }
}
const draws = (n: number, each: number, seed: number) => {
  const next = random(seed);
  return Array.from({ length: n }, () => Array.from({ length: each }, () => next.next().value as number));
};

/**
 * Little CMS's own program (Debian's liblcms2-utils), as a second build of the engine, driven by itself. `-c0` and `-n` keep it
 * exact and silent.
 */
function transicc(
  from: string,
  to: string,
  intent: Intent,
  blackPoint: boolean,
  lines: number[][],
): number[][] {
  const t = { perceptual: 0, relative: 1, saturation: 2, absolute: 3 }[intent];
  const { stdout, stderr } = spawnSync(
    'transicc',
    ['-i', from, '-o', to, `-t${t}`, '-n', '-c0', ...(blackPoint ? ['-b'] : [])],
    { input: `${lines.map((l) => l.join(' ')).join('\n')}\n`, encoding: 'utf8' },
  );
  const rows = stdout
    .trim()
    .split('\n')
    .map((l) => l.trim().split(/\s+/).map(Number));
  if (rows.length !== lines.length) throw new Error(`${rows.length} lines of ${lines.length}: ${stderr}`);
  return rows;
}

/** Characterisation data (Debian's icc-profiles-free, from fogra.org): inks in percent, then XYZ and Lab, D50 2°, white backing. */
const PRINT_DATA = findShared('color/icc/FOGRA39L.ti3');
const patches = (name: string) =>
  readFileSync(PRINT_DATA!.replace('FOGRA39L', name), 'utf8')
    .split(/BEGIN_DATA\r?\n/)[1]
    .split(/END_DATA/)[0]
    .trim()
    .split('\n')
    .map((line) => line.trim().split(/\s+/).map(Number))
    .map((v) => ({ inks: v.slice(1, 5), lab: v.slice(8, 11) }));

describe('inks as they print', () => {
  it.skipIf(!PRINT_DATA).each([
    // profiles/README.md says of the coated one: average 0.16, largest 0.72
    ['coated', 'FOGRA39L', coated, 0.165, 0.72],
    ['uncoated', 'FOGRA29L', uncoated, 0.18, 0.72],
  ] as const)('of %s offset are where %s measured them', (_, data, condition, mean, largest) => {
    const all = patches(data);
    expect(all.length).toBeGreaterThan(1000);
    const apart = all.map(({ inks, lab }) => deltaE00(toLab(cmyk(...inks), condition), lab as Lab));
    expect(apart.reduce((a, b) => a + b) / all.length).toBeLessThan(mean);
    expect(Math.max(...apart)).toBeLessThan(largest);
  });

  it.skipIf(!PRINT_DATA)(
    'black on coated paper is L* 16 to an instrument, and dark on the screen; paper is white there',
    () => {
      expect(toLab(cmyk(0, 0, 0, 100), coated)[0]).toBeCloseTo(16, 1);
      expect(toHex(cmyk(0, 0, 0, 0), coated)).toBe('#ffffff');
      // all inks within the limit: as black as it gets, and black point compensation makes it so
      expect(toLab(cmyk(80, 70, 70, 100), coated)[0]).toBeLessThan(11);
      expect(toHex(cmyk(80, 70, 70, 100), coated)).toBe('#000000');
    },
  );

  it('of both papers come out of a Lab file where they were measured', () => {
    const wanted: [number[], typeof coated, number[]][] = [
      // FOGRA39L, patches of full magenta, cyan, and cyan with yellow
      [[0, 100, 0, 0], coated, [48, 74, -3]],
      [[100, 0, 0, 0], coated, [55, -37, -50]],
      [[100, 0, 100, 0], coated, [50, -65, 27]],
      // FOGRA29L
      ...patches('FOGRA29L')
        .filter(({ inks }) => ['0,100,0,0', '100,0,0,0', '100,0,100,0'].includes(inks.join()))
        .slice(0, 3)
        .map(({ inks, lab }): [number[], typeof coated, number[]] => [inks, uncoated, lab]),
    ];
    expect(wanted.length).toBe(6);
    for (const [inks, condition, lab] of wanted) {
      // beside a Lab colour the whole table is in Lab
      const swatches = [
        { ...fleet.groups[1].swatches[0], id: 'a', color: cmyk(...inks) },
        { ...fleet.groups[1].swatches[0], id: 'b' },
      ];
      const written = cgats.encode({ ...fleet, groups: [{ id: 'g', name: '', swatches }] }, { condition });
      const [there] = readBy(cgats, written).swatches;
      expect(there.color.space).toBe('lab');
      expect(deltaE00(there.color.components as Lab, lab as Lab)).toBeLessThan(0.8);
    }
  });
});

describe('the engine agrees with transicc to ΔE 0.05 on 1,000 colours', () => {
  const inks = draws(1000, 4, 1).map((l) => l.map((v) => Math.round(v * 1000) / 10));
  const labs = draws(1000, 3, 2).map(([L, a, b]) => [5 + L * 90, a * 140 - 70, b * 140 - 70]);
  const cases = (['coated', 'uncoated'] as const).flatMap((paper) =>
    INTENTS.map((intent) => [paper, intent] as const),
  );

  it.each(cases)('from %s, %s', (paper, intent) => {
    const manner = mannerOf(intent);
    const theirs = transicc(FILES[paper], '*Lab', intent, manner.blackPoint, inks);
    const ours = engine.labs(
      SHIPPED[paper],
      inks.map((l) => cmyk(...l)),
      manner,
    );
    for (const [i, lab] of ours.entries()) expect(deltaE76(lab, theirs[i])).toBeLessThan(0.05);
  });

  it.each(cases)('to %s, %s', (paper, intent) => {
    const manner = mannerOf(intent);
    const theirs = transicc('*Lab', FILES[paper], intent, manner.blackPoint, labs);
    const ours = engine.fromLab(SHIPPED[paper], Float32Array.from(labs.flat()), manner);
    // as far as they print alike
    const print = (n: (i: number) => Color) =>
      engine.labs(
        SHIPPED[paper],
        labs.map((_, i) => n(i)),
        MEASURED,
      );
    const a = print((i) => ({ space: 'cmyk', components: [...ours.slice(4 * i, 4 * i + 4)] }));
    const b = print((i) => cmyk(...theirs[i]));
    for (const [i, lab] of a.entries()) expect(deltaE76(lab, b[i])).toBeLessThan(0.05);
  });

  it('from a screen to inks, and from inks to a screen', () => {
    const rgb = draws(1000, 3, 3);
    const theirs = transicc(
      '*sRGB',
      FILES.coated,
      'relative',
      true,
      rgb.map((l) => l.map((v) => v * 255)),
    );
    const printed = (color: Color) => toLab(color, coated);
    for (const [i, components] of rgb.entries())
      expect(
        deltaE76(printed(convert({ space: 'rgb', components }, 'cmyk', coated)), printed(cmyk(...theirs[i]))),
      ).toBeLessThan(0.05);
    const shown = transicc(FILES.coated, '*sRGB', 'relative', true, inks);
    for (const [i, wanted] of shown.entries()) {
      if (wanted.some((v) => v < 0.5 || v > 254.5)) continue;
      const ours = convert(cmyk(...inks[i]), 'rgb', coated).components.map((v) => v * 255);
      ours.forEach((v, c) => {
        expect(Math.abs(v - wanted[c])).toBeLessThan(0.2);
      });
    }
  });
});

// Ghostscript's own (Debian's libgs-common), versions 2 and 4
const SCREENS = findShared('color/icc/ghostscript');

describe.skipIf(!SCREENS)('profiles of screens and grays', () => {
  it.each([
    ['srgb.icc', 'rgb', 3],
    ['default_rgb.icc', 'rgb', 3],
    ['sgray.icc', 'gray', 1],
    ['default_gray.icc', 'gray', 1],
  ] as const)('%s brings colours that name it where transicc brings them', (name, space, channels) => {
    const path = `${SCREENS}/${name}`;
    const { hash, ...info } = engine.add(new Uint8Array(readFileSync(path)));
    expect(info).toMatchObject({ space, kind: expect.stringMatching(/mntr|spac|scnr/) });
    const numbers = draws(100, channels, 5);
    const theirs = transicc(
      path,
      '*Lab',
      'relative',
      true,
      numbers.map((l) => l.map((v) => v * 255)),
    );
    const condition = conditionIn(engine, coated.setting);
    for (const [i, components] of numbers.entries())
      expect(deltaE76(toLab({ space, components, profile: hash }, condition), theirs[i])).toBeLessThan(0.05);
    engine.remove(hash);
    // without it they are what such numbers usually are
    const bare = conditionIn(engine, coated.setting);
    const [components] = numbers;
    expect(toLab({ space, components, profile: hash }, bare)).toEqual(toLab({ space, components }, bare));
  });
});

describe('a profile', () => {
  const sound = () => new Uint8Array(readFileSync(FILES.coated));
  const with32 = (bytes: Uint8Array, at: number, value: number) => {
    new DataView(bytes.buffer).setUint32(at, value);
    return bytes;
  };
  const withText = (bytes: Uint8Array, at: number, text: string) => {
    bytes.set(new TextEncoder().encode(text), at);
    return bytes;
  };
  it.each<[string, () => Uint8Array, RegExp]>([
    ['that is cut short', () => sound().slice(0, 200_000), /cut short.*354328 bytes.*200000/],
    ['that lies about its size', () => with32(sound(), 0, 1000), /says it has 1000 bytes/],
    ['whose part lies outside of it', () => with32(sound(), 128 + 4 + 4, 400_000), /part “desc” would end/],
    ['of a thousand parts', () => with32(sound(), 128, 1000), /1000 parts/],
    ['that is a device link', () => withText(sound(), 12, 'link'), /device link/],
    ['that is a named colour list', () => withText(sound(), 12, 'nmcl'), /named colour/],
    ['of an unknown class', () => withText(sound(), 12, 'xxxx'), /class “xxxx”/],
    ['for seven inks', () => withText(sound(), 16, '7CLR'), /“7CLR”/],
    ['of version 5', () => new Uint8Array([...sound().slice(0, 8), 5, ...sound().slice(9)]), /version 5/],
    ['that is none', () => new TextEncoder().encode('no profile at all'.repeat(20)), /“acsp”/],
    ['of 200 MB', () => new Uint8Array(200e6), /200 MB.*17 MB/],
    ['whose tables are gone', () => sound().fill(0, 400), /damaged|no use|does not open/],
  ])('%s is refused by what is wrong with it, and nothing is kept of it', (_, bytes, why) => {
    const before = engine.profile(SHIPPED.coated);
    let said: ProfileError | null = null;
    try {
      engine.add(bytes());
    } catch (error) {
      said = error as ProfileError;
    }
    expect(said?.name).toBe('ProfileError');
    expect(said?.message).toMatch(why);
    expect(engine.profile(SHIPPED.coated)).toBe(before);
    // and the engine goes on
    expect(toLab(cmyk(0, 100, 0, 0), coated)[0]).toBeCloseTo(48, 0);
  });

  it('of 16 MB opens, however small the engine’s stack is', () => {
    // padding behind the last part belongs to nothing, and is allowed
    const large = new Uint8Array(MAX_PROFILE_BYTES);
    large.set(sound());
    const info = engine.add(with32(large, 0, large.length));
    expect(info).toMatchObject({ space: 'cmyk', kind: 'prtr', version: '2.2' });
    engine.remove(info.hash);
    expect(engine.profile(info.hash)).toBeUndefined();
  });

  it('is the same one however often it is added', () => {
    expect(engine.add(sound()).hash).toBe(SHIPPED.coated);
  });
});

it('an ink without a print condition is a mistake, and not a colour', () => {
  expect(() => toHex(cmyk(0, 100, 0, 0), screenOnly)).toThrow();
});
