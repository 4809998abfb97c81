import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import Color from 'colorjs.io';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { main } from '../main.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-apply-'));
afterAll(() => rmSync(folder, { recursive: true }));
const path = (name: string) => join(folder, name);
const file = (name: string, content: string | Uint8Array) => {
  writeFileSync(path(name), content);
  return path(name);
};
const extract = (args: string[]) => command('extract', args);
const run = (args: string[], input?: string) => command('apply', args, input);
async function command(name: string, args: string[], input?: string) {
  let [out, err] = ['', ''];
  const code = await main([name, ...args], {
    out: (text) => {
      out += text;
    },
    err: (text) => {
      err += text;
    },
    bytes: (data) => {
      out += new TextDecoder().decode(data);
    },
    ...(input === undefined ? {} : { input: async () => new TextEncoder().encode(input) }),
  });
  return { code, out, err, json: args.includes('--json') && out.startsWith('{') ? JSON.parse(out) : null };
}

const shirt = `<svg xmlns="http://www.w3.org/2000/svg" width="85mm" height="55mm" viewBox="0 0 850 550">
<style>.body { fill: #f2c200 } .trim { stroke: #14304a; stroke-width: 20; fill: none }</style>
<rect class="body" width="850" height="550"/><path class="trim" d="M50 50h750v450h-750z"/>
<circle id="badge" cx="425" cy="275" r="90" fill="#c8102e" onclick="alert(1)"/>
</svg>
`;
const inks =
  'Code;Name;Kind;Hex\nKW 612 C;Harbour blue;spot;#1d4e89\nKW 61 C;Sand;spot;#d8c9a3\nKW 20 C;Signal;spot;#c0182b\n';
const artwork = file('shirt.svg', shirt);
const swatches = file('inks.csv', inks);

describe('papillon extract', () => {
  it('has the colours of a drawing, each once with its parts and share, and names them', async () => {
    const { json } = await extract([artwork, path('shirt.gpl'), '--json']);
    expect(json.swatches).toEqual([
      // 850 by 550; an outline 2,400 long and 20 wide; a circle of 90
      { hex: '#f2c200', coverage: expect.closeTo(467_500 / 540_947, 3), name: expect.any(String), parts: 1 },
      { hex: '#14304a', coverage: expect.closeTo(48_000 / 540_947, 3), name: expect.any(String), parts: 1 },
      { hex: '#c8102e', coverage: expect.closeTo(25_447 / 540_947, 3), name: 'badge', parts: 1 },
    ]);
    expect(readFileSync(path('shirt.gpl'), 'utf8')).toMatch(/200 +16 +46\tbadge/);
    const asked = await extract([artwork, '--count', '3']);
    expect([asked.code, asked.err]).toEqual([2, expect.stringMatching(/only --order applies to drawings/)]);
  });
});

describe('a PDF', () => {
  /** A page with two inks and a process colour, that ours is not the only program to write. */
  const fleet = async () => {
    const { byUs } = await import('../../core/pdf/testing.ts');
    return file('fleet.pdf', await byUs());
  };

  it('has its colours taken, inks as spot colours', async () => {
    const { code, json } = await extract([await fleet(), path('fleet.json'), '--to', 'papillon', '--json']);
    expect(code).toBe(0);
    expect(json.swatches.map((s: { name: string }) => s.name)).toEqual(
      expect.arrayContaining(['Orange 2', 'Hull navy']),
    );
    expect(readFileSync(path('fleet.json'), 'utf8')).toMatch(/"name": ?"Hull navy",\s*"kind": ?"spot"/);
  });

  it('gets a customer’s number in place of an ink given by its name, behind the old file', async () => {
    const pdf = await fleet();
    const before = readFileSync(pdf);
    const { code, json } = await run([
      ...[pdf, path('done.pdf'), '--with', swatches, '--map', 'Orange 2=612', '--json'],
    ]);
    expect(code).toBe(0);
    expect(json.colors.filter((c: { swatch?: string }) => c.swatch)).toEqual([
      expect.objectContaining({ swatch: 'Harbour blue', parts: 1 }),
    ]);
    const after = readFileSync(path('done.pdf'));
    expect(Buffer.compare(after.subarray(0, before.length), before)).toBe(0);
    const names = async (name: string) =>
      (await command('inks', [path(name), '--json'])).json.inks.map((i: { name: string }) => i.name);
    expect(await names('done.pdf')).toContain('Harbour blue');
    await run([pdf, path('new.pdf'), '--with', swatches, '--map', 'Orange 2=612', '--fresh']);
    expect(await names('new.pdf')).toContain('Harbour blue');
  });

  it('stays one, and says which colours it has where another is asked for', async () => {
    const pdf = await fleet();
    const asked = await run([pdf, path('x.svg'), '--with', swatches, '--nearest']);
    expect([asked.code, asked.err]).toEqual([2, expect.stringMatching(/ending must be \.pdf/)]);
    const other = await run([pdf, path('x.pdf'), '--with', swatches, '--map', 'Orange 3=612']);
    expect([other.code, other.err]).toEqual([1, expect.stringMatching(/nor the name of a part or ink/)]);
    const damaged = await run([
      file('bad.pdf', '%PDF-1.7\nnothing'),
      ...[path('x.pdf'), '--with', swatches, '--nearest'],
    ]);
    expect([damaged.code, damaged.err]).toEqual([1, expect.stringMatching(/bad\.pdf.*damaged/)]);
  });
});

describe('papillon apply', () => {
  // the difference by colorjs.io
  it('changes a colour to a customer’s number, and nothing else but what acts', async () => {
    const { code, json } = await run([
      artwork,
      path('blue.svg'),
      '--with',
      swatches,
      '--map',
      '#F2C200=612',
      '--json',
    ]);
    expect(code).toBe(0);
    expect(json).toEqual({
      colors: [
        {
          from: '#f2c200',
          to: '#1d4e89',
          swatch: 'Harbour blue',
          parts: 1,
          deltaE00: expect.closeTo(new Color('#f2c200').deltaE('#1d4e89', '2000'), 1),
        },
        { from: '#14304a', to: '#14304a', parts: 1, deltaE00: 0 },
        { from: '#c8102e', to: '#c8102e', parts: 1, deltaE00: 0 },
      ],
      size: { width: 85, height: 55, unit: 'mm' },
      notes: [expect.stringContaining('events')],
    });
    expect(readFileSync(path('blue.svg'), 'utf8')).toBe(
      shirt.replace('#f2c200', '#1d4e89').replace(' onclick="alert(1)"', ''),
    );
    expect(readFileSync(artwork, 'utf8')).toBe(shirt);
  });

  it('takes the nearest within a difference, and lets the rest stay', async () => {
    const { json } = await run([
      artwork,
      path('near.svg'),
      '--with',
      swatches,
      '--nearest',
      '--within',
      '5',
      '--json',
    ]);
    expect(json.colors.map((c: { from: string; to: string }) => [c.from, c.to])).toEqual([
      ['#f2c200', '#f2c200'],
      ['#14304a', '#14304a'],
      ['#c8102e', '#c0182b'],
    ]);
  });

  it('makes a picture in the drawing’s own size', async () => {
    await run([artwork, path('out.png'), '--with', swatches, '--map', '#f2c200=Sand', '--dpi', '254']);
    const { data, info } = await sharp(path('out.png'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    // 85 mm at 10 pixels a millimetre
    expect([info.width, info.height]).toEqual([850, 550]);
    expect((await sharp(path('out.png')).metadata()).density).toBe(254);
    expect([...data.subarray(0, 3)]).toEqual([0xd8, 0xc9, 0xa3]);
  });

  it('makes a PDF with the ink on its own plate, and says what it stands for', async () => {
    const { json } = await run([
      artwork,
      path('out.pdf'),
      '--with',
      swatches,
      '--map',
      '#c8102e=612',
      '--json',
    ]);
    expect(json.colors[2].swatch).toBe('Harbour blue');
    expect(readFileSync(path('out.pdf'), 'latin1')).toMatch(/\/Separation \/Harbour#20blue/);
  });

  it('recolours a flat picture, smooth edges and all', async () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><rect width="40" height="40" fill="#f2c200"/><circle cx="20" cy="20" r="12" fill="#c8102e"/></svg>';
    const png = file('flat.png', await sharp(Buffer.from(svg)).png().toBuffer());
    const { json } = await run([
      png,
      path('flat-out.png'),
      '--with',
      swatches,
      '--map',
      '#f2c200=612',
      '--json',
    ]);
    expect(json.colors.map((c: { from: string; to: string }) => [c.from, c.to])).toEqual([
      ['#f2c200', '#1d4e89'],
      ['#c8102e', '#c8102e'],
    ]);
    expect(json.size).toEqual({ width: 40, height: 40, unit: 'px' });
    const { data } = await sharp(path('flat-out.png'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([...data.subarray(0, 3)]).toEqual([0x1d, 0x4e, 0x89]);
    const refused = await run([png, path('no.svg'), '--with', swatches, '--nearest']);
    expect([refused.code, refused.err]).toEqual([2, expect.stringMatching(/a picture stays one/)]);
  });

  it('converts a picture with a profile to the colours that are seen, and says so', async () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><rect width="40" height="40" fill="#c8a064"/><circle cx="20" cy="20" r="12" fill="#6d8f86"/><rect width="9" height="9" fill="#00ff00"/></svg>';
    // its numbers are those of Display P3
    const plain = await sharp(Buffer.from(svg)).removeAlpha().png().toBuffer();
    const { icc } = await sharp(await sharp(plain).withIccProfile('p3').toBuffer()).metadata();
    const body = Buffer.concat([Buffer.from('iCCPp3\0\0', 'latin1'), deflateSync(icc!)]);
    const chunk = Buffer.alloc(body.length + 8);
    chunk.writeUInt32BE(body.length - 4);
    body.copy(chunk, 4);
    chunk.writeUInt32BE(crc32(body), body.length + 4);
    const wide = Buffer.concat([plain.subarray(0, 33), chunk, plain.subarray(33)]);
    const seen = (css: string) =>
      new Color(
        'p3',
        css.match(/../g)!.map((h) => Number.parseInt(h, 16) / 255) as [number, number, number],
      ).to('srgb');
    const teal = seen('6d8f86').toString({ format: 'hex' });
    const { json } = await run([
      ...[file('wide.png', wide), path('wide-out.png'), '--with', swatches, '--map', `${teal}=612`, '--json'],
    ]);
    expect(json.notes).toEqual([
      expect.stringMatching(/converted to sRGB, in which it goes out\. One colour lies outside sRGB/),
    ]);
    const out = await sharp(path('wide-out.png')).removeAlpha().raw().toBuffer();
    const at = (x: number, y: number) => [...out.subarray(3 * (40 * y + x), 3 * (40 * y + x) + 3)];
    at(38, 20).forEach((v, i) => {
      expect(Math.abs(v - 255 * seen('c8a064').coords[i]!)).toBeLessThan(1.5);
    });
    expect(at(2, 2)).toEqual([0, 255, 0]);
    expect(at(20, 20)).toEqual([0x1d, 0x4e, 0x89]);
  });

  it('reads standard input and writes standard output', async () => {
    const { out, err } = await run(['-', '-', '--with', swatches, '--map', '#c8102e=rgb(1 2 3)'], shirt);
    expect(out).toContain('fill="#010203"');
    expect(err).toMatch(/#c8102e → #010203/);
  });

  it.each([
    [
      ['--map', '#f2c201=612'],
      1,
      /“#f2c201” is neither a colour of the work nor the name of a part or ink\. It has #f2c200, #14304a, #c8102e/,
    ],
    [
      ['--map', '#f2c200=nothing'],
      1,
      /“nothing” is neither a swatch of “inks” by name, code or number, nor a colour/,
    ],
    [['--map', '#f2c200'], 2, /Use OLD=NEW/],
    [[], 2, /--map OLD=NEW, or --nearest/],
    [['--map', '#f2c200=612', '--within', '3'], 2, /--within goes with --nearest/],
  ])('%j: told', async (more, code, says) => {
    const found = await run([artwork, path('no.svg'), '--with', swatches, ...more]);
    expect([found.code, found.out]).toEqual([code, '']);
    expect(found.err).toMatch(says);
  });

  it('says which swatches a number means when it means several', async () => {
    const two = file('two.csv', 'Code;Name;Hex\nKW 612 C;Blue;#1d4e89\nKW 612 U;Dull blue;#3a5f8a\n');
    const { err } = await run([artwork, path('no.svg'), '--with', two, '--map', '#f2c200=612']);
    expect(err).toMatch(/means several swatches: “KW 612 C Blue”, “KW 612 U Dull blue”/);
    const { json } = await run([
      artwork,
      path('u.svg'),
      '--with',
      two,
      '--map',
      '#f2c200=kw 612 u',
      '--json',
    ]);
    expect(json.colors[0].to).toBe('#3a5f8a');
  });

  it('tells of damaged drawings with the place', async () => {
    const broken = file('broken.svg', '<svg xmlns="http://www.w3.org/2000/svg"><g></svg>');
    const { code, err } = await run([broken, path('no.svg'), '--with', swatches, '--nearest']);
    expect(code).toBe(1);
    expect(err).toMatch(/broken\.svg: line 1, column \d+: the XML is damaged/);
    const gif = await run([artwork, path('no.gif'), '--with', swatches, '--nearest']);
    expect([gif.code, gif.err]).toEqual([2, expect.stringMatching(/none of \.svg, \.png and \.pdf/)]);
  });
});
