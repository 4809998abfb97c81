import { execFileSync, spawn, spawnSync } from 'node:child_process';
import {
  closeSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { strToU8, zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { deltaE00, parseColor, SHIPPED, toLab } from '../core/color/index.ts';
import { coated } from '../core/testing.ts';
import { main } from './main.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-cli-'));
afterAll(() => rmSync(folder, { recursive: true }));
const path = (name: string) => join(folder, name);
const file = (name: string, content: string | Uint8Array) => {
  writeFileSync(path(name), content);
  return path(name);
};

async function run(...args: string[]) {
  return runWith({}, ...args);
}

async function runWith(more: Partial<Parameters<typeof main>[1]>, ...args: string[]) {
  let out = '';
  let err = '';
  const code = await main(args, {
    bytes: (data) => {
      out += new TextDecoder().decode(data);
    },
    ...more,
    out: (text) => {
      out += text;
    },
    err: (text) => {
      err += text;
    },
  });
  return { code, out, err, json: args.includes('--json') && out !== '' ? JSON.parse(out) : null };
}

const PHOTO = fileURLToPath(new URL('../tests/photos/rocket.jpg', import.meta.url));
const gpl = 'GIMP Palette\nName: Ropes\nColumns: 3\n#\n138 28 36\tHull red\n255 255 255\tDeck\n';

describe('papillon', () => {
  it('formats lists all with their traits', async () => {
    const { json } = await run('formats', '--json');
    expect(json.map((f: { id: string }) => f.id)).toEqual(
      'ase aco act gpl hex css acb riff-pal jasc-pal soc tablet csv tokens papillon cxf cgats icc-named svg png ggr strip pdf dxf mtl gltf scss less theme resources asset-catalogue office-theme kpl layout-xml clr yaml toml xlsx ods cpt sld wif materialx usda 3mf odf ps stylus'.split(
        ' ',
      ),
    );
    expect(json[2]).toMatchObject({
      read: true,
      write: true,
      names: false,
      groups: false,
      bits: 8,
      most: 256,
    });
  });

  it('inspect prints what is promised, whatever the ending', async () => {
    const { json } = await run('inspect', file('ropes.ase', gpl), '--json');
    expect(json).toEqual({
      format: 'gpl',
      name: 'Ropes',
      columns: 3,
      groups: [
        {
          name: null,
          swatches: [
            {
              name: 'Hull red',
              kind: 'process',
              space: 'rgb',
              components: [138 / 255, 28 / 255, 36 / 255],
              hex: '#8a1c24',
              lab: expect.any(Array),
            },
            {
              name: 'Deck',
              kind: 'process',
              space: 'rgb',
              components: [1, 1, 1],
              hex: '#ffffff',
              lab: expect.any(Array),
            },
          ],
        },
      ],
      warnings: [],
    });
  });

  it('the same palette in three formats reads the same', async () => {
    const start = file('start.gpl', gpl);
    const read = async (name: string) => {
      await run('convert', start, path(name));
      const { json } = await run('inspect', path(name), '--json');
      return json.groups[0].swatches.map((s: { name: string; hex: string }) => [s.name, s.hex]);
    };
    const [ase, aco, css] = [await read('a.ase'), await read('b.aco'), await read('c.css')];
    expect(ase).toEqual([
      ['Hull red', '#8a1c24'],
      ['Deck', '#ffffff'],
    ]);
    expect(aco).toEqual(ase);
    expect(css).toEqual(ase);
  });

  it('convert tells what changed', async () => {
    const { json } = await run('convert', file('names.gpl', gpl), path('out.txt'), '--to', 'act', '--json');
    expect(json).toMatchObject({ from: 'gpl', to: 'act', swatches: 2 });
    expect(json.changes).toEqual([
      { swatch: 'Hull red', what: 'name', before: 'Hull red', after: '' },
      { swatch: 'Deck', what: 'name', before: 'Deck', after: '' },
    ]);
    expect(readFileSync(path('out.txt')).length).toBe(772);
  });

  it('extract takes a palette from a picture and writes it', async () => {
    const red = { create: { width: 30, height: 10, channels: 3 as const, background: '#c02020' } };
    const patch = await sharp({ create: { width: 10, height: 10, channels: 3, background: '#204080' } })
      .png()
      .toBuffer();
    await sharp(red)
      .composite([{ input: patch, left: 20, top: 0 }])
      .png()
      .toFile(path('flag.png'));
    const { json } = await run('extract', path('flag.png'), path('flag.ase'), '--count', '5', '--json');
    expect(json).toMatchObject({ count: 2, meanDeltaE00: 0 });
    expect(json.swatches[0]).toEqual({ hex: '#c02020', coverage: expect.closeTo(2 / 3, 9) });
    const back = await run('inspect', path('flag.ase'), '--json');
    expect(back.json.groups[0].swatches.map((s: { hex: string }) => s.hex)).toEqual(['#c02020', '#204080']);
    expect((await run('extract', path('flag.png'), '--exact', '--json')).json.count).toBe(2);
  });

  it('extract reads the chips of a photographed chart row by row, one that repeats once', async () => {
    const chips = ['#8a1c24', '#14304a', '#d9a441', '#2f7d6b', '#8a1c24', '#c76a9b'];
    const page = sharp({ create: { width: 640, height: 440, channels: 3, background: '#b9ad97' } }).composite(
      chips.map((background, i) => ({
        input: { create: { width: 120, height: 120, channels: 3 as const, background } },
        left: 80 + 180 * (i % 3),
        top: 70 + 180 * Math.floor(i / 3),
      })),
    );
    const photo = await sharp(await page.png().toBuffer())
      .rotate(-1.5, { background: '#b9ad97' })
      .jpeg({ quality: 85 })
      .toBuffer();
    const { json } = await run('extract', file('chart.bin', photo), '--chart', '--json');
    const different = [...new Set(chips)];
    expect(json.count).toBe(different.length);
    json.swatches.forEach(({ hex }: { hex: string }, i: number) => {
      expect(deltaE00(toLab(parseColor(hex), coated), toLab(parseColor(different[i]), coated))).toBeLessThan(
        1,
      );
    });
  });

  it('extract leans towards small telling colours when it is asked to', async () => {
    const width = 120;
    const data = Buffer.alloc(3 * width * width);
    for (let i = 0; i < width * width; i++) {
      const [x, y] = [i % width, Math.floor(i / width)];
      const buoy = x > 50 && x < 60 && y > 50 && y < 60;
      data.set(buoy ? [200, 16, 46] : [30 + y, 60 + y, 80 + y], 3 * i);
    }
    const sea = path('sea.png');
    await sharp(data, { raw: { width, height: width, channels: 3 } })
      .png()
      .toFile(sea);
    const nearest = async (...options: string[]) => {
      const { json } = await run('extract', sea, '--count', '3', ...options, '--json');
      return Math.min(
        ...json.swatches.map(({ hex }: { hex: string }) =>
          deltaE00(toLab(parseColor(hex), coated), toLab(parseColor('#c8102e'), coated)),
        ),
      );
    };
    expect(await nearest()).toBeGreaterThan(await nearest('--accent', '0.8'));
    expect(await nearest('--accent', '0.8')).toBeLessThan(3);
  });

  it.each<[string, string[], number, RegExp]>([
    ['a chart that is none', ['extract', PHOTO, '--chart'], 1, /no chart found/],
    ['a balance out of range', ['extract', 'a', '--accent', '2'], 2, /0 to 1/],
    ['two ways at once', ['extract', 'a', '--exact', '--chart'], 2, /cannot be combined/],
    ['a file that is not there', ['inspect', '/nowhere/x.ase'], 1, /x\.ase: it cannot be read \(ENOENT\)/],
    ['an empty file', ['inspect', file('empty.aco', '')], 1, /empty\.aco: the file is empty/],
    [
      'a damaged file',
      ['inspect', file('bad.gpl', 'GIMP Palette\n1 2\n')],
      1,
      /bad\.gpl: read as GPL, line 2/,
    ],
    ['a picture that is none', ['extract', file('no.png', 'hello')], 1, /no\.png: it does not decode/],
    ['an unknown command', ['explode'], 2, /unknown command/],
    ['an unknown format', ['convert', 'a', 'b', '--to', 'zzz'], 2, /unknown format “zzz”/],
    ['an ending that names none', ['convert', 'a', 'b.zzz'], 2, /--to/],
    ['a count out of range', ['extract', 'a', '--count', '1'], 2, /2 to 256/],
    ['no command at all', [], 2, /Usage/],
  ])('%s: the exit code and the reason', async (_, args, code, reason) => {
    const result = await run(...args);
    expect(result.code).toBe(code);
    expect(result.err).toMatch(reason);
    expect(result.out).toBe('');
  });

  it('tells its version, and what is usual in words alone', async () => {
    expect((await run('--version')).out).toMatch(/^\d+\.\d+\.\d+\n$/);
    const help = (await run('match', '--help')).out;
    expect(help).toMatch(/--metric <id>[^{]*\(default:\s+de00\)/);
    for (const command of ['convert', 'check', 'match', 'apply', 'scale', 'harmony'])
      expect((await run(command, '--help')).out).not.toMatch(/[{[]["}\]]/);
  });

  it('writes a palette to standard output, with what is to be told beside it', async () => {
    const red = { create: { width: 30, height: 10, channels: 3 as const, background: '#c02020' } };
    const picture = file('out.png', await sharp(red).png().toBuffer());
    const piped = await run('extract', picture, '-', '--to', 'hex', '--count', '2');
    expect([piped.code, piped.out]).toEqual([0, '#c02020\n']);
    expect(piped.err).toMatch(/1 colours?, mean/);
    expect(await run('extract', picture, '-')).toMatchObject({
      code: 2,
      err: expect.stringMatching(/needs --to/),
    });
  });

  it('checks what comes in on standard input', async () => {
    const result = await main(['check', '-', '--only', 'ink'], {
      out: () => undefined,
      err: () => undefined,
      input: async () => new TextEncoder().encode('name,c,m,y,k\nHeavy,100,100,100,20.1\n'),
    });
    // 320.1 % where 320 may lie
    expect(result).toBe(1);
  });

  it('does not write a file over itself in a format that keeps less without --force', async () => {
    const start = file('own.gpl', gpl);
    const refused = await run('convert', start, path('own.gpl'), '--to', 'act');
    expect([refused.code, refused.err]).toEqual([
      1,
      expect.stringMatching(/written over what it is read from.*--force/),
    ]);
    expect(readFileSync(start, 'utf8')).toBe(gpl);
    const many = await run('convert', start, '--to', 'gpl', '--out', path('.'));
    expect(many.code).toBe(0);
    expect((await run('convert', start, path('own.gpl'), '--to', 'act', '--force')).code).toBe(0);
    expect(readFileSync(start).length).toBe(772);
  });

  it('calls what is missing wrong usage', async () => {
    expect(await run('scale', 'red')).toMatchObject({ code: 2, err: expect.stringMatching(/give --steps/) });
  });

  it('runs from the shell as the README says', () => {
    const out = execFileSync(
      'npm',
      ['run', '-s', 'papillon', '--', 'inspect', file('shell.hex', '#102030\n'), '--json'],
      { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] },
    );
    expect(JSON.parse(out).groups[0].swatches[0].hex).toBe('#102030');
  });

  it('ends at once on Ctrl-C, and reports an output that is full', async () => {
    const rows = Array.from(
      { length: 60_000 },
      (_, i) => `Rope ${i},#${(i * 97).toString(16).padStart(6, '0')}`,
    );
    const large = file('large.csv', `Name,Hex\n${rows.join('\n')}\n`);
    const running = spawn('node', ['cli/papillon.mjs', 'convert', large, path('large.pdf')], {
      stdio: 'ignore',
    });
    await new Promise((resolve) => setTimeout(resolve, 3000));
    running.kill('SIGINT');
    const signal = await new Promise((resolve) => running.on('exit', (_, s) => resolve(s)));
    expect(signal).toBe('SIGINT');
    // a device that is always full, where the system has one
    if (!existsSync('/dev/full')) return;
    const full = openSync('/dev/full', 'w');
    const { status, stderr } = spawnSync('node', ['cli/papillon.mjs', 'formats'], {
      stdio: ['ignore', full, 'pipe'],
      encoding: 'utf8',
    });
    closeSync(full);
    expect([status, stderr]).toEqual([
      1,
      expect.stringMatching(/standard output cannot be written \(ENOSPC\)/),
    ]);
  });
});

describe('papillon convert, many at once', () => {
  const gplOf = (name: string) => `GIMP Palette\nName: ${name}\n1 2 3\tHemp\n`;

  it('writes a file for each in folders and zips, tells what it passed over, and fails for what is damaged', async () => {
    mkdirSync(path('in/deep'), { recursive: true });
    file('in/ropes.gpl', gplOf('Ropes'));
    file('in/deep/ropes.gpl', gplOf('Ropes'));
    file('in/letter.zip', zipSync({ 'letter.txt': strToU8('Dear crew'), 'sea.txt': strToU8('#2f7d6b') }));
    const { code, json } = await run('convert', path('in'), '--to', 'ase', '--out', path('out'), '--json');
    expect(code).toBe(0);
    expect(readdirSync(path('out')).sort()).toEqual(['ropes 2.ase', 'ropes.ase', 'sea.ase']);
    expect(json.files.map((f: { from: string; swatches: number }) => [f.from, f.swatches])).toEqual([
      ['gpl', 1],
      ['hex', 1],
      ['gpl', 1],
    ]);
    expect(json.skipped).toMatchObject([{ why: 'no swatch file and no picture' }]);

    const bad = await run(
      'convert',
      file('torn.ase', 'ASEF'),
      path('in'),
      '--to',
      'gpl',
      '--out',
      path('out2'),
    );
    expect(bad.code).toBe(1);
    expect(bad.err).toMatch(/torn\.ase: read as ASE, it is cut short/);
    // the sound ones are there all the same
    expect(readdirSync(path('out2')).length).toBe(3);
  });

  it('takes the options of a format, and refuses what it does not have', async () => {
    const from = file('three.gpl', `${gplOf('Three')}4 5 6\n7 8 9\n`);
    expect(
      (await run('convert', from, path('wide.png'), '--set', 'columns=3', '--set', 'chip=10')).code,
    ).toBe(0);
    expect(await sharp(path('wide.png')).metadata()).toMatchObject({ width: 30, height: 10 });
    expect((await run('convert', from, path('named.png'), '--set', 'names=yes')).code).toBe(0);
    for (const [option, message] of [
      ['corners=3', /has no option “corners”; it has columns, chip, names/],
      ['columns=0', /goes from 1 to 100/],
      ['columns=yes', /wants a number/],
      ['columns', /such as columns=6/],
    ] as const) {
      const { code, err } = await run('convert', from, path('x.png'), '--set', option);
      expect(code).toBe(2);
      expect(err).toMatch(message);
    }
  });

  it('says how it is used', async () => {
    expect((await run('convert', 'one')).err).toMatch(/give one file to read and one to write, not 1/);
    expect((await run('convert', 'one', '--out', 'x')).err).toMatch(/--out needs --to/);
    expect((await run('convert', 'one', 'two', '--to', 'gltf', '--out', path('o'))).code).toBe(1);
  });

  it('knows a picture and an archive when it meets one, and says which command is for it', async () => {
    const png = file(
      'p.png',
      await sharp({ create: { width: 4, height: 4, channels: 3, background: 'red' } })
        .png()
        .toBuffer(),
    );
    expect((await run('inspect', png)).err).toMatch(/it is a picture\. “papillon extract”/);
    const zip = file('z.zip', zipSync({ 'a.txt': strToU8('#112233') }));
    expect((await run('inspect', zip)).err).toMatch(/it is an archive/);
  });

  it('goes by the longest ending that names a format', async () => {
    const from = file('long.gpl', gplOf('Long'));
    await run('convert', from, path('x.papillon.json'));
    await run('convert', from, path('x.tokens.json'));
    expect((await run('inspect', path('x.papillon.json'), '--json')).json.format).toBe('papillon');
    expect((await run('inspect', path('x.tokens.json'), '--json')).json.format).toBe('tokens');
  });

  it('takes the colours of text in a drawing only when asked', async () => {
    const drawing = file(
      'words.svg',
      '<svg xmlns="http://www.w3.org/2000/svg"><text y="9" fill="#123456">Hull</text><rect y="20" width="9" height="9" fill="#654321"/></svg>',
    );
    const hexes = async (...more: string[]) =>
      (await run('inspect', drawing, '--json', ...more)).json.groups[0].swatches.map(
        (s: { hex: string }) => s.hex,
      );
    expect(await hexes()).toEqual(['#654321']);
    expect(await hexes('--text')).toEqual(['#123456', '#654321']);
    for (const [out, more] of [
      ['plain', []],
      ['words', ['--text']],
    ] as const)
      await run('convert', drawing, '--to', 'hex', '--out', path(out), ...more);
    expect(readFileSync(path('plain/words.hex'), 'utf8')).toBe('#654321\n');
    expect(readFileSync(path('words/words.hex'), 'utf8')).toBe('#123456\n#654321\n');
  });
});

describe('check', () => {
  it('says what fails, and exits with 1, so that a build can use it', async () => {
    const css = file('c.css', ':root { --red: #ff0000; --navy: #14304a; --Navy: #14304a; }');
    const { code, out, err, json } = await run('check', css, '--json');
    expect(code).toBe(1);
    expect(err).toMatch(/things do not hold/);
    expect(JSON.parse(out)).toEqual(json);
    expect(json.profile).toBe('Coated offset (FOGRA39L)');
    const found = json.findings.map(
      (f: { check: string; swatches: string[] }) => `${f.check}: ${f.swatches}`,
    );
    expect(found).toContain('press-gamut: red');
    expect(found).toContain('look-alikes: navy,Navy');
    const other = await run(
      'check',
      css,
      '--profile',
      'profiles/uncoated-offset.icc',
      '--only',
      'press-gamut',
    );
    expect(other.out).toMatch(/Uncoated offset.*300 %/);
  });

  it('exits with 0 where all holds, and says what is wrong with a profile', async () => {
    const css = file('d.css', ':root { --kelp: #2f7d6b; --plum: #5a3550; }');
    expect((await run('check', css)).code).toBe(0);
    const bad = await run('check', css, '--profile', css);
    expect([bad.code, bad.err]).toEqual([1, expect.stringMatching(/d\.css: it is no ICC profile/)]);
    expect((await run('check', css, '--only', 'nothing')).code).toBe(2);
    expect((await run('check', css, '--ink', '9')).code).toBe(2);
  });

  it('compares with another file', async () => {
    const then = file('then.css', ':root { --kelp: #2f7d6b; --plum: #5a3550; }');
    const now = file('now.css', ':root { --kelp: #2f8d7b; --plum: #5a3550; }');
    const { json } = await run('check', now, '--against', then, '--only', 'against', '--json');
    expect(json.findings).toEqual([
      {
        check: 'against',
        swatches: ['kelp'],
        measure: expect.any(Number),
        says: expect.stringMatching(/^ΔE00 \d/),
      },
    ]);
  });
});

describe('match', () => {
  it('finds the nearest in a book by its name, and in files', async () => {
    const { code, json } = await run(
      'match',
      'Lab 40 57 33',
      '#ffffff',
      '--in',
      'Kestrelmere Inks on coated',
      '--json',
    );
    expect(code).toBe(0);
    expect(json.matches.map((m: { query: string; found: object[] }) => [m.query, m.found.length])).toEqual([
      ['Lab 40 57 33', 5],
      ['#ffffff', 5],
    ]);
    const [first, second] = json.matches[0].found;
    expect(first).toEqual({
      name: expect.stringMatching(/^KW \d+$/),
      code: expect.stringMatching(/^\d+$/),
      hex: expect.stringMatching(/^#[0-9a-f]{6}$/),
      lab: [expect.any(Number), expect.any(Number), expect.any(Number)],
      deltaE00: expect.any(Number),
    });
    expect(first.deltaE00).toBeLessThanOrEqual(second.deltaE00);
    const css = file('near.css', ':root { --kelp: #2f7d6b; --plum: #5a3550; }');
    const near = await run(
      'match',
      '#2f7d6c',
      '--in',
      css,
      '--in',
      'kestrelmere uncoated',
      '--top',
      '1',
      '--json',
    );
    expect(near.json.matches[0].found).toMatchObject([{ name: 'kelp', hex: '#2f7d6b', in: 'near' }]);
    const none = await run('match', '#2f7d6c', '--in', css, '--within', '0.01');
    expect([none.code, none.out]).toEqual([0, '#2f7d6c\n  none within the tolerance\n']);
  });

  it('says what is not a colour, no book, and no metric', async () => {
    const css = file('near.css', ':root { --kelp: #2f7d6b; }');
    const said = async (...args: string[]) => {
      const { code, err } = await run('match', ...args);
      return [code, err] as const;
    };
    expect(await said('zzz', '--in', css)).toEqual([1, expect.stringMatching(/“zzz”.*not a colour/)]);
    expect(await said('#fff', '--in', 'nowhere')).toEqual([
      1,
      expect.stringMatching(/no book of this name. Books: “Kes/),
    ]);
    expect(await said('#fff', '--in', 'kestrelmere')).toEqual([1, expect.stringMatching(/several books/)]);
    expect((await said('#fff'))[0]).toBe(2);
    expect((await said('#fff', '--in', css, '--metric', 'eye'))[0]).toBe(2);
    expect((await said('#fff', '--in', css, '--top', '0'))[0]).toBe(2);
  });

  it('reads standard input and writes standard output, what changed beside it', async () => {
    const written: Uint8Array[] = [];
    const stream = {
      input: async () => strToU8(gpl),
      bytes: (data: Uint8Array) => void written.push(data),
    };
    const { code, out, err } = await runWith(stream, 'convert', '-', '-', '--to', 'hex');
    expect([code, out, new TextDecoder().decode(written[0])]).toEqual([0, '', '#8a1c24\n#ffffff\n']);
    expect(err).toMatch(/2 of 2 swatches change on the way/);
    expect((await runWith(stream, 'inspect', '-', '--json')).json.name).toBe('Ropes');
    expect((await runWith(stream, 'convert', '-', '-')).code).toBe(2);
    expect((await runWith(stream, 'convert', '-', '-', '--to', 'hex', '--json')).code).toBe(2);
    expect((await run('convert', '-', path('x.hex'))).err).toMatch(/standard input is not available/);
    const drawing = '<svg xmlns="http://www.w3.org/2000/svg"><path fill="#8a1c24" d="M0 0h9v9z"/></svg>';
    const drawn = await runWith({ input: async () => strToU8(drawing) }, 'extract', '-', '--json');
    expect(drawn.json.swatches).toMatchObject([{ hex: '#8a1c24' }]);
  });

  it('convert tells what the reader passed over, and what is lost beside swatches', async () => {
    const csv = file('two.csv', 'Group,Name,Hex\nHull,Red,#8a1c24\nHull,Bad,#zz\nDeck,Sand,#c8a064\n');
    const { json } = await run('convert', csv, path('two.gpl'), '--json');
    expect(json.warnings).toEqual([expect.stringMatching(/row 3: “#zz” is not a colour/)]);
    expect(json.library).toContain('its groups');
    const { out, err } = await run('convert', csv, path('two.gpl'));
    expect(out).toBe('All 2 swatches arrive; their groups do not. Colours stay.\n');
    expect(err).toMatch(/^Note: Left out: row 3/);
    const many = await run('convert', csv, '--to', 'gpl', '--out', path('many'));
    expect(many.err).toMatch(/two\.csv: Left out: row 3/);
    await run('convert', csv, '--to', 'gpl', '--out', path('groups'), '--per-group');
    expect(readdirSync(path('groups')).sort()).toEqual(['two, Deck.gpl', 'two, Hull.gpl']);
  });

  it('convert takes spaces, names and papers as they are asked for', async () => {
    const from = file('ink.csv', 'Name,Code,C,M,Y,K\nBrass,KF 1,4,26,70,12\n');
    await run('convert', from, path('ink.ase'), '--set', 'space=lab', '--set', 'naming=both');
    const [swatch] = (await run('inspect', path('ink.ase'), '--json')).json.groups[0].swatches;
    expect([swatch.name, swatch.space]).toEqual(['KF 1 Brass', 'lab']);
    const paper = '--set';
    await run('convert', from, path('ink2.ase'), paper, `inks=${SHIPPED.uncoated}`, '--set', 'space=lab');
    const [other] = (await run('inspect', path('ink2.ase'), '--json')).json.groups[0].swatches;
    expect(deltaE00(swatch.lab, other.lab)).toBeGreaterThan(2);
    expect((await run('convert', from, path('x.ase'), '--set', 'space=xyz')).err).toMatch(
      /one of \(nothing\), rgb, cmyk, lab/,
    );
  });

  it('inspect shows everything a swatch has', async () => {
    const cxf = file(
      'ink.cxf',
      '<CxF><Resources><ObjectCollection><Object Name="Ink"><Comment>made up</Comment><ColorValues><ColorCIELab><L>50</L><A>1</A><B>2</B></ColorCIELab><ReflectanceSpectrum StartWL="400" Increment="10">0.1 0.2 0.3</ReflectanceSpectrum></ColorValues><DeviceColorValues><ColorCMYK><Cyan>10</Cyan><Magenta>20</Magenta><Yellow>30</Yellow><Black>40</Black></ColorCMYK></DeviceColorValues><TagCollection><Tag Name="Tint of" Value="Solid"/><Tag Name="Tint" Value="50"/></TagCollection></Object></ObjectCollection></Resources></CxF>',
    );
    expect((await run('inspect', cxf, '--json')).json.groups[0].swatches[0]).toMatchObject({
      note: 'made up',
      alternates: [{ space: 'cmyk', components: [0.1, 0.2, 0.3, 0.4] }],
      spectrum: { start: 400, step: 10, values: [0.1, 0.2, 0.3] },
      tint: { of: 'Solid', percent: 50 },
    });
    const css = file(
      'g.css',
      ':root { --a: #ff0000; --b: #0000ff; --g: linear-gradient(90deg, var(--a), 30%, var(--b)); }',
    );
    expect((await run('inspect', css, '--json')).json.gradients).toEqual([
      {
        name: 'g',
        way: 'srgb',
        stops: [
          { at: 0, swatch: 'a', hex: '#ff0000', middle: 0.3 },
          { at: 1, swatch: 'b', hex: '#0000ff' },
        ],
      },
    ]);
  });

  it('watch keeps files in step, goes on after a damaged one, and ends when told', async () => {
    mkdirSync(path('edited'));
    file('edited/a.gpl', gpl);
    const stop = new AbortController();
    const told: string[] = [];
    const running = main(['watch', path('edited'), '--to', 'hex', '--out', path('edited/out')], {
      out: (text) => void told.push(text),
      err: (text) => void told.push(text),
      stop: stop.signal,
    });
    const now = (name: string) => readFileSync(path(`edited/out/${name}`), 'utf8');
    await expect.poll(() => told.join(''), { timeout: 10_000 }).toMatch(/Watching/);
    expect(now('a.hex')).toBe('#8a1c24\n#ffffff\n');
    file('edited/a.gpl', 'GIMP Palette\n1 2 3\tTar\n');
    await expect.poll(() => now('a.hex'), { timeout: 10_000 }).toBe('#010203\n');
    file('edited/b.gpl', 'GIMP Palette\n4 5 6\tRope\n');
    await expect.poll(() => readdirSync(path('edited/out')), { timeout: 10_000 }).toContain('b.hex');
    file('edited/a.gpl', 'GIMP Palette\nnothing\n');
    await expect.poll(() => told.join(''), { timeout: 10_000 }).toMatch(/a\.gpl: read as GPL, line 2/);
    expect(now('a.hex')).toBe('#010203\n');
    stop.abort();
    expect(await running).toBe(0);
  });

  it('watch waits for a folder that goes, and goes on when it is back', async () => {
    mkdirSync(path('drive/colours'), { recursive: true });
    file('drive/colours/a.gpl', gpl);
    const stop = new AbortController();
    const said: string[] = [];
    const running = main(['watch', path('drive/colours'), '--to', 'hex', '--out', path('drive-out')], {
      out: (text) => void said.push(text),
      err: (text) => void said.push(text),
      stop: stop.signal,
    });
    const hears = (what: RegExp) => expect.poll(() => said.join(''), { timeout: 10_000 }).toMatch(what);
    await hears(/Watching/);
    rmSync(path('drive'), { recursive: true });
    await hears(/colours: the folder is gone\. Watching goes on when it is back/);
    rmSync(path('drive-out'), { recursive: true });
    mkdirSync(path('drive/colours'), { recursive: true });
    file('drive/colours/a.gpl', 'GIMP Palette\n7 8 9\tPitch\n');
    await hears(/the folder is back/);
    await expect
      .poll(() => existsSync(path('drive-out/a.hex')) && readFileSync(path('drive-out/a.hex'), 'utf8'), {
        timeout: 10_000,
      })
      .toBe('#070809\n');
    stop.abort();
    expect(await running).toBe(0);
  });

  it('convert --out writes beside no link, and reads a folder that leads to itself once', async () => {
    mkdirSync(path('circle/inside'), { recursive: true });
    file('circle/a.gpl', gpl);
    symlinkSync(path('circle'), path('circle/inside/again'));
    symlinkSync(path('circle'), path('circle/self'));
    mkdirSync(path('circle-out'));
    file('precious.txt', 'not to be lost');
    const { code, err } = await run('convert', path('circle'), '--to', 'hex', '--out', path('circle-out'));
    expect([code, err]).toEqual([0, '']);
    expect(readdirSync(path('circle-out'))).toEqual(['a.hex']);
    rmSync(path('circle-out/a.hex'));
    symlinkSync(path('precious.txt'), path('circle-out/a.hex'));
    const refused = await run('convert', path('circle'), '--to', 'hex', '--out', path('circle-out'));
    expect([refused.code, refused.err]).toEqual([1, expect.stringMatching(/a\.hex: it is a symbolic link/)]);
    expect(readFileSync(path('precious.txt'), 'utf8')).toBe('not to be lost');
  });

  it('completion writes scripts that shells take, with every command and format in them', async () => {
    const { out } = await run('completion', 'bash');
    for (const word of ['inspect', 'watch', '--per-group', 'asset-catalogue']) expect(out).toContain(word);
    // the shell itself completes with it
    const complete = (line: string) =>
      execFileSync('bash', [
        '-c',
        `${out}\nCOMP_WORDS=(${line}); COMP_CWORD=$((\${#COMP_WORDS[@]}-1)); _papillon; echo "\${COMPREPLY[*]}"`,
      ])
        .toString()
        .trim();
    expect(complete('papillon conv')).toBe('convert');
    expect(complete('papillon convert a.gpl --to as')).toBe('ase asset-catalogue');
    expect(complete('papillon watch --per')).toBe('--per-group');
    expect((await run('completion', 'fish')).out).toContain(
      'complete -c papillon -n __fish_use_subcommand -a convert',
    );
    expect((await run('completion', 'zsh')).out).toContain('bashcompinit');
    expect((await run('completion', 'cmd')).code).toBe(2);
  });
});
