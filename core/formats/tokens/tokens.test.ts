import { defineConfig, Logger, parse } from '@terrazzo/parser';
import Color from 'colorjs.io';
import { describe, expect, it } from 'vitest';
import { toHex } from '../../color/index.ts';
import { coated, fleet, readBy, services, writeBy } from '../../testing.ts';
import { compareWritten, summarize } from '../changes.ts';
import { tokens } from './tokens.ts';

describe('design tokens', () => {
  it('are read by @terrazzo/parser: groups, types and values', async () => {
    const src = writeBy(tokens, fleet);
    const config = defineConfig({ lint: { rules: {} } }, { cwd: new URL('file:///tmp/') });
    const { tokens: found } = await parse([{ filename: new URL('file:///tmp/fleet.json'), src }], { config });
    expect(Object.keys(found).sort()).toEqual(
      ['paper', 'sea-sky-1', 'hull.boot-top-red', 'hull.old-brass', 'hull.cutting'].sort(),
    );
    for (const token of Object.values(found)) expect(token.$type).toBe('color');
    expect(found['hull.boot-top-red'].$value).toMatchObject({ colorSpace: 'lab', components: [40, 57, 33] });
    expect(found['sea-sky-1'].$value).toMatchObject({ colorSpace: 'srgb', hex: '#2f7d6b' });
  });

  it('are read as objects in any space of CSS Color 4, as hex strings, nested, with inherited types', () => {
    const { lines, library } = readBy(
      tokens,
      JSON.stringify({
        $description: 'Made up',
        sea: {
          $type: 'color',
          deep: { $value: '#14304a', $description: 'at night' },
          shallow: { far: { $value: { colorSpace: 'oklch', components: [0.6, 0.1, 200], alpha: 0.5 } } },
        },
        p3: { $type: 'color', $value: { colorSpace: 'display-p3', components: [1, 0, 0] } },
        hsl: { $type: 'color', $value: { colorSpace: 'hsl', components: [120, 100, 50] } },
      }),
    );
    // a second opinion: colorjs.io, brought to the screen as a hex code is
    const hexOf = (css: string) =>
      new Color(css).to('srgb').toGamut({ method: 'css' }).toString({ format: 'hex' });
    const far = hexOf('oklch(0.6 0.1 200)');
    expect(library.note).toBe('Made up');
    expect(lines).toEqual([
      `p3 ${hexOf('color(display-p3 1 0 0)')}`,
      'hsl #00ff00',
      'sea | deep #14304a',
      `sea / shallow | far ${far}`,
    ]);
    expect(library.groups[1].swatches[0].note).toBe('at night');
  });

  it('stay in the order of the text when they are named by numbers, in groups that extend others, too', () => {
    const text = `{"$type":"color",
      "scale":{"900":{"$value":"#111111"},"50":{"$value":"#eeeeee"},"base":{"$value":"#777777"},"500":{"$value":"#808080"}},
      "warm":{"$extends":"{scale}","50":{"$value":"#ffeeee"},"10":{"$value":"#ffffff"}}}`;
    expect(readBy(tokens, text).lines).toEqual([
      ...['scale | 900 #111111', 'scale | 50 #eeeeee', 'scale | base #777777', 'scale | 500 #808080'],
      ...[
        'warm | 900 #111111',
        'warm | 50 #ffeeee',
        'warm | base #777777',
        'warm | 500 #808080',
        'warm | 10 #ffffff',
      ],
    ]);
  });

  it('take their code where the space is unknown or the numbers are on another scale, and give a warning when there is no code', () => {
    const { lines, warnings } = readBy(
      tokens,
      JSON.stringify({
        $type: 'color',
        press: { $value: { colorSpace: 'cmyk', components: [0, 1, 1, 0], hex: '#e4002b' } },
        bytes: { $value: { colorSpace: 'srgb', components: [228, 0, 43], hex: '#e4002b' } },
        wide: { $value: { colorSpace: 'srgb', components: [1.05, -0.1, 0] } },
        lost: { $value: { colorSpace: 'srgb', components: [228, 0, 43] } },
      }),
    );
    expect(lines.map((l) => l.split(' ')[0])).toEqual(['press', 'bytes', 'wide']);
    expect(lines.slice(0, 2)).toEqual(['press #e4002b', 'bytes #e4002b']);
    expect(warnings).toEqual([expect.stringMatching(/^Left out: lost: .*228.* is not a colour/)]);
  });

  it('resolve aliases, also of aliases, and tell those that lead nowhere or in a ring', () => {
    const { lines, warnings } = readBy(
      tokens,
      JSON.stringify({
        $type: 'color',
        a: { $value: '{b}' },
        b: { $value: '{c.d}' },
        c: { d: { $value: '#010203' } },
        lost: { $value: '{nowhere}' },
        ring: { $value: '{round}' },
        round: { $value: '{ring}' },
        ref: { $value: { $ref: '#/c/d/$value' } },
      }),
    );
    expect(lines).toEqual(['a #010203', 'b #010203', 'ref #010203', 'c | d #010203']);
    expect(warnings.join(' ')).toMatch(/lost: “nowhere” is not there.*ring: “\w+” refers to itself/);
  });

  it('leave other tokens out and say how many', () => {
    const source = JSON.stringify({
      gap: { $type: 'dimension', $value: { value: 4, unit: 'px' } },
      c: { $type: 'color', $value: '#fff' },
    });
    expect(readBy(tokens, source).warnings).toEqual(['1 token is not a colour and was left out.']);
  });

  it('say where JSON is damaged, and survive a name that JavaScript knows', () => {
    expect(() => readBy(tokens, '{"$value":'.repeat(300_000))).toThrow(/more than 1000 deep/);
    expect(() => readBy(tokens, '{"a": {"$value": }')).toThrow(/line 1, column \d+: the JSON is damaged/);
    expect(readBy(tokens, '{"$type":"color","__proto__":{"$value":"#123456"}}').lines).toEqual([
      '__proto__ #123456',
    ]);
  });

  it('makes no groups of what is not a colour, and finds what groups take over from others', () => {
    const { library, lines, warnings } = readBy(
      tokens,
      JSON.stringify({
        size: { $type: 'dimension', small: { $value: { value: 4, unit: 'px' } } },
        fonts: { $type: 'fontFamily', body: { $value: 'Serif' }, deep: { more: { $value: 'Mono' } } },
        sea: {
          $type: 'color',
          deep: { $value: '#010203' },
          shallow: { far: { $value: '#040506' }, near: { $value: '#070809' } },
        },
        night: { $extends: '{sea}', deep: { $value: '#111111' }, shallow: { near: { $value: '#222222' } } },
        dusk: { $extends: '#/night', late: { $value: '#333333' } },
        ring: { $extends: '{ring}', $type: 'color', one: { $value: '#444444' } },
        brand: { $type: 'color', $root: { $value: '#555555' } },
      }),
    );
    expect(lines).toEqual([
      'sea | deep #010203',
      'sea / shallow | far #040506',
      'sea / shallow | near #070809',
      'night | deep #111111',
      'night / shallow | far #040506',
      'night / shallow | near #222222',
      'dusk | deep #111111',
      'dusk | late #333333',
      'dusk / shallow | far #040506',
      'dusk / shallow | near #222222',
      'ring | one #444444',
      'brand | brand #555555',
    ]);
    expect(library.groups.map((g) => g.name).filter((n) => /size|fonts/.test(n))).toEqual([]);
    expect(warnings).toEqual(['3 tokens are not colours and were left out.']);
  });

  it('follows JSON Pointers with escaped characters, into values too (RFC 6901)', () => {
    const { lines } = readBy(
      tokens,
      JSON.stringify({
        $type: 'color',
        'a/b': {
          'c~d': { $value: '#010203' },
          'e f': { $value: { colorSpace: 'srgb', components: [0.2, 0.4, 1] } },
        },
        one: { $value: { $ref: '#/a~1b/c~0d' } },
        two: { $value: { $ref: '#/a~1b/e%20f/$value' } },
        three: {
          $value: {
            colorSpace: 'srgb',
            components: [
              { $ref: '#/a~1b/e%20f/$value/components/2' },
              0,
              { $ref: '#/a~1b/e%20f/$value/components/0' },
            ],
          },
        },
      }),
    );
    expect(lines.slice(0, 3)).toEqual(['one #010203', 'two #3366ff', 'three #ff0033']);
  });

  it('says what is for Papillon only', async () => {
    const report = await compareWritten(fleet, tokens.encode(fleet, services), tokens, coated);
    const told = report.changes.filter((c) => c.papillonOnly).map((c) => `${c.swatch} ${c.what} ${c.after}`);
    expect(told).toEqual(
      expect.arrayContaining([
        'Boot-top red name boot-top-red',
        'Boot-top red code ',
        'Boot-top red kind process',
        'Cutting kind process',
      ]),
    );
    expect(summarize(report).detail).toContain(
      'Names, spot and technical kinds, roles and codes are kept for Papillon only.',
    );
    // a note is the standard's own description
    expect(report.changes.some((c) => c.what === 'note')).toBe(false);
  });

  it('reads what build tools write once they have followed references: the outcome, not what stood there', () => {
    const text = JSON.stringify({
      'ansi-black': {
        value: '#2f3742',
        type: 'color',
        original: { $value: '{base.neutral.6}', $type: 'color' },
        path: ['ansi', 'black'],
      },
      gap: { value: '4px', type: 'dimension', original: { $value: '4px' } },
    });
    expect(readBy(tokens, text).lines).toEqual(['ansi-black #2f3742']);
  });

  describe('of a resolver', () => {
    // sets, modifiers, contexts and the order of resolution as the Resolver module of Design Tokens has them
    const resolver = (more: object = {}) =>
      JSON.stringify({
        name: 'Fleet',
        version: '2025.10',
        sets: {
          core: {
            sources: [
              {
                sea: { $type: 'color', 500: { $value: '#2f7d6b' }, 50: { $value: '#e6f2ef' } },
                surface: { $type: 'color', $value: '{sea.50}' },
              },
            ],
          },
        },
        modifiers: {
          theme: {
            default: 'day',
            contexts: {
              day: [{ text: { $type: 'color', $value: '{sea.500}' } }],
              night: [
                {
                  surface: { $type: 'color', $value: '{sea.500}' },
                  text: { $type: 'color', $value: '{surface}' },
                },
              ],
            },
          },
        },
        resolutionOrder: [{ $ref: '#/sets/core' }, { $ref: '#/modifiers/theme' }],
        ...more,
      });

    it('each mode is a group, with what its own tokens are in it', () => {
      const { library } = readBy(tokens, resolver());
      expect(library.name).toBe('Fleet');
      const groups = library.groups.filter((g) => g.swatches.length > 0);
      expect(
        groups.map((g) => [g.name, g.swatches.map((s) => `${s.name} ${toHex(s.color, coated)}`)]),
      ).toEqual([
        ['core', ['surface #e6f2ef']],
        ['core / sea', ['50 #e6f2ef', '500 #2f7d6b']],
        ['theme / day', ['text #2f7d6b']],
        // where the surface is another, so is the text that refers to it
        ['theme / night', ['surface #2f7d6b', 'text #2f7d6b']],
      ]);
    });

    it('comes to what @terrazzo/parser resolves in each mode', async () => {
      const { library } = readBy(tokens, resolver());
      const config = defineConfig({ lint: { rules: {} } }, { cwd: new URL('file:///tmp/') });
      const logger = new Logger({ level: 'silent' });
      const file = { filename: new URL('file:///tmp/fleet.resolver.json'), src: resolver() };
      const theirs = await parse([file], { config, logger });
      for (const theme of ['day', 'night']) {
        const resolved = theirs.resolver.apply({ theme });
        const own = library.groups.find((g) => g.name === `theme / ${theme}`)!;
        for (const { name, color } of own.swatches) {
          const { components } = resolved[name]!.$value as { components: number[] };
          expect(color.components).toEqual(components);
        }
      }
    });

    it('says which tokens lie in other files', () => {
      const sets = { core: { sources: [{ $ref: './core.json' }] } };
      const night = { theme: { contexts: { night: [{ deep: { $value: '#14304a', $type: 'color' } }] } } };
      const { warnings } = readBy(tokens, resolver({ sets, modifiers: night }));
      expect(warnings).toEqual([expect.stringMatching(/other files.*: \.\/core\.json/)]);
      expect(() => readBy(tokens, resolver({ sets, modifiers: {} }))).toThrow(
        /lie in other files \(\.\/core\.json\)/,
      );
    });
  });
});
