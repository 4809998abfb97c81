import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ColorJs from 'colorjs.io';
import { afterAll, describe, expect, it } from 'vitest';
import { runCommand } from '../testing.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-tune-'));
afterAll(() => rmSync(folder, { recursive: true }));
const path = (name: string) => join(folder, name);
const file = (name: string, text: string) => {
  writeFileSync(path(name), text);
  return path(name);
};

const run = (...args: string[]) => runCommand(args);

const source = file(
  'own.csv',
  'Group,Name,Kind,Hex\nSky,Dawn,,#e7cfa6\nSky,Night,,#14304a\nHull,Red,,#b3262b\nHull,Signal,spot,#ff5500\n',
);

describe('tune', () => {
  it('moves what it is asked to, and says for each what it was and is', async () => {
    const { code, out } = await run(
      'tune',
      source,
      path('lighter.csv'),
      '--lightness',
      '5',
      '--chroma',
      '0.5',
      '--json',
    );
    expect(code).toBe(0);
    const { swatches, leftAlone } = JSON.parse(out);
    expect(leftAlone).toBe(1);
    expect(swatches.map((s: { swatch: string }) => s.swatch)).toEqual(['Dawn', 'Night', 'Red']);
    for (const { from, to, deltaE00, lostChroma } of swatches) {
      const [a, b] = [from, to].map((hex: string) => new ColorJs(hex).to('oklch').coords.map(Number)) as [
        number[],
        number[],
      ];
      expect(b[0]! - a[0]!).toBeCloseTo(0.05, 2);
      expect(b[1]! / a[1]!).toBeCloseTo(0.5, 1);
      expect(deltaE00).toBeCloseTo(new ColorJs(from).deltaE(new ColorJs(to), '2000'), 0);
      expect(lostChroma).toBeUndefined();
    }
    const written = readFileSync(path('lighter.csv'), 'utf8');
    expect(written).toContain('#ff5500');
    expect(written).not.toContain('#b3262b');
  });

  it('keeps to the groups that are named', async () => {
    const { out } = await run('tune', source, path('sky.hex'), '--group', 'Sky', '--reverse', '--json');
    expect(JSON.parse(out).swatches.length).toBe(2);
    expect(readFileSync(path('sky.hex'), 'utf8')).toContain('b3262b');
    expect(await run('tune', source, path('x.hex'), '--group', 'Sea', '--reverse')).toMatchObject({
      code: 1,
      err: expect.stringMatching(/no group “Sea”; it has .*“Sky”/),
    });
  });

  it('takes colours towards a colour, a light and another file', async () => {
    const warm = file('warm.hex', 'd98a3d\nb3703a\nf0c890\n');
    for (const how of [
      ['--blend', '#d98a3d=30'],
      ['--light', 'D65=A'],
      ['--like', `${warm}=60`],
      ['--like', `${warm}=60`, '--within', 'press'],
    ]) {
      const { code, out } = await run('tune', source, path('warm.csv'), ...how, '--json');
      expect(code, how.join(' ')).toBe(0);
      const night = JSON.parse(out).swatches[1];
      const b = (hex: string) => Number(new ColorJs(hex).to('oklab').coords[2]);
      expect(b(night.to), how.join(' ')).toBeGreaterThan(b(night.from));
    }
  });

  it.each([
    ['nothing to do', [], /say what to do/],
    ['a share out of range', ['--blend', '#fff=120'], /0 to 100/],
    ['a share without a colour', ['--blend', '20'], /NAME=PERCENT/],
    ['a light that is none', ['--light', 'D65=moon'], /FROM=TO/],
    ['what cannot be even', ['--even', 'name=20'], /lightness, chroma, hue/],
    ['a gamut that is none', ['--within', 'all', '--reverse'], /srgb, p3, press/],
    ['a factor below 0', ['--chroma', '-1'], /0 or more/],
  ])('%s is wrong usage, with the reason', async (_, args, reason) => {
    const result = await run('tune', source, path('never.hex'), ...args);
    expect(result.code).toBe(2);
    expect(result.err).toMatch(reason);
  });
});
