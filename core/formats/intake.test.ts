import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { countingIds, countSwatches } from '../swatch/model.ts';
import { services } from '../testing.ts';
import { ARCHIVE_LIMITS, type Intake, pack, takeIn } from './index.ts';
import { tablet } from './tablet/tablet.ts';

const gpl = strToU8('GIMP Palette\nName: Ropes\n1 2 3\tHemp\n4 5 6\tTar\n');
async function all(found: AsyncGenerator<Intake>): Promise<Intake[]> {
  const list: Intake[] = [];
  for await (const one of found) list.push(one);
  return list;
}
const take = (bytes: Uint8Array, name = 'given.zip') => all(takeIn(bytes, name, countingIds()));
const told = (list: Intake[]) =>
  list.map((i) => [i.kind, i.path, i.kind === 'swatches' ? countSwatches(i.opened.library) : 0]);

describe('what comes in', () => {
  it('is looked through: archives in archives, pictures, files of no interest', async () => {
    const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0]);
    const inner = zipSync({ 'deep/list.txt': strToU8('#112233') });
    const zip = zipSync({
      'a/ropes.gpl': gpl,
      'b/ropes.gpl': gpl,
      'harbour.png': png,
      'letter.txt': strToU8('Dear crew'),
      'more.zip': inner,
      '__MACOSX/._ropes.gpl': strToU8('x'),
      '.hidden': strToU8('x'),
    });
    expect(told(await take(zip))).toEqual([
      ['swatches', 'given.zip/a/ropes.gpl', 2],
      ['swatches', 'given.zip/b/ropes.gpl', 2],
      ['picture', 'given.zip/harbour.png', 0],
      ['skipped', 'given.zip/letter.txt', 0],
      ['swatches', 'given.zip/more.zip/deep/list.txt', 1],
    ]);
  });

  it('a tablet archive is a palette, not an archive to look through', async () => {
    const bytes = tablet.encode({ id: 'l', name: 'Sea', groups: [] }, services);
    expect(told(await take(bytes))).toEqual([['swatches', 'given.zip', 0]]);
  });

  it('archives deeper than three are passed over', async () => {
    let bytes: Uint8Array = gpl;
    for (let i = 0; i < 4; i++) bytes = zipSync({ [`level${i}.zip`]: bytes });
    expect(await take(bytes)).toMatchObject([
      { kind: 'skipped', message: expect.stringMatching(/more than 3 deep/) },
    ]);
    let three: Uint8Array = gpl;
    for (let i = 0; i < 3; i++) three = zipSync({ [`level${i}.zip`]: three });
    expect(told(await take(three))[0][0]).toBe('swatches');
  });

  it('no path leaves the archive', async () => {
    const zip = zipSync({ '../../etc/ropes.gpl': gpl, '/root/ropes.gpl': gpl, 'c\\..\\ropes.gpl': gpl });
    expect((await take(zip)).map((i) => i.path)).toEqual([
      'given.zip/etc/ropes.gpl',
      'given.zip/root/ropes.gpl',
      'given.zip/c/ropes.gpl',
    ]);
  });

  it('a bomb is refused before it is unpacked, by size and by ratio', async () => {
    const zeros = zipSync({ 'zeros.gpl': new Uint8Array(10e6) });
    expect(await take(zeros)).toMatchObject([
      { kind: 'problem', message: expect.stringMatching(/would grow \d+ times/) },
    ]);
    // nearly all that is allowed has been unpacked from other archives of the same drop
    const sofar = { entries: 0, bytes: ARCHIVE_LIMITS.bytes - 20 };
    expect(
      await all(takeIn(zipSync({ 'ropes.gpl': gpl }), 'x.zip', countingIds(), undefined, sofar)),
    ).toMatchObject([{ kind: 'problem', message: expect.stringMatching(/larger than 512 MB/) }]);
  });

  it('an archive of too many files is refused', async () => {
    const many = Object.fromEntries(
      Array.from({ length: ARCHIVE_LIMITS.entries + 1 }, (_, i) => [`${i}`, strToU8('')]),
    );
    expect(await take(zipSync(many))).toMatchObject([
      { message: expect.stringMatching(/more than 5000 files/) },
    ]);
  });

  it('the limits count archives inside archives together', async () => {
    const inner = zipSync(Object.fromEntries(Array.from({ length: 2600 }, (_, i) => [`${i}`, strToU8('')])));
    const found = await take(zipSync({ 'a.zip': inner, 'b.zip': inner }));
    expect(found.at(-1)).toMatchObject({ kind: 'problem', path: 'given.zip/b.zip' });
  });

  it('a byte that is not as it was packed is seen, packed or not', async () => {
    for (const level of [0, 6] as const) {
      const zip = zipSync({ 'ropes.gpl': gpl, 'sound.gpl': gpl }, { level });
      // inside the first entry, behind its header and name
      for (let at = 30 + 9; at < 30 + 9 + (level === 0 ? gpl.length : 30); at++) {
        const broken = zip.slice();
        broken[at] ^= 1;
        expect(await take(broken)).toMatchObject([
          {
            kind: 'problem',
            message: expect.stringMatching(
              /“ropes.gpl” (is not as it was packed|does not unpack|has \d+ bytes)/,
            ),
          },
        ]);
      }
    }
  });

  it('a size that is not true is seen, in the directory and in what unpacks', async () => {
    const zip = zipSync({ 'ropes.gpl': new Uint8Array(500).fill(65) });
    const directory = Buffer.from(zip).indexOf('PK\x01\x02');
    for (const size of [10, 499, 501, 100_000, 0xfffffff0]) {
      const lying = zip.slice();
      new DataView(lying.buffer).setUint32(directory + 24, size, true);
      expect(await take(lying)).toMatchObject([{ kind: 'problem' }]);
    }
  });

  it('two files of one name are both there', async () => {
    const zip = zipSync({ 'a.gpl': gpl, 'b.gpl': gpl });
    const twice = Uint8Array.from(zip, (b) => (b === 'b'.charCodeAt(0) ? 'a'.charCodeAt(0) : b));
    expect((await take(twice)).map((i) => i.path)).toEqual(['given.zip/a.gpl', 'given.zip/a.gpl']);
  });

  it('an archive that asks for a password says so', async () => {
    const zip = zipSync({ 'ropes.gpl': gpl });
    zip[Buffer.from(zip).indexOf('PK\x01\x02') + 8] |= 1;
    expect(await take(zip)).toMatchObject([{ message: expect.stringMatching(/asks for a password/) }]);
  });

  it('a damaged archive, and an empty one, say so', async () => {
    const zip = zipSync({ 'ropes.gpl': gpl });
    expect(await take(zip.slice(0, 40))).toMatchObject([
      { kind: 'problem', message: expect.stringMatching(/given.zip: the zip archive is damaged/) },
    ]);
    expect(await take(zipSync({}))).toMatchObject([{ message: 'given.zip: the archive is empty.' }]);
  });

  it('a damaged file gives its reason and what was sound before it', async () => {
    const table =
      'CGATS.17\nNUMBER_OF_SETS 3\nBEGIN_DATA_FORMAT\nLAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2 3\n';
    const [found] = await take(strToU8(table), 'ropes.txt');
    expect(found).toMatchObject({
      kind: 'problem',
      message: expect.stringMatching(/^ropes.txt: read as CGATS, it promises 3 sets of values, but has 1/),
      sound: { library: { name: 'ropes', groups: [{ swatches: [{ name: '' }] }] } },
    });
  });
});

describe('packing', () => {
  it('gives no two files one path, capitals or not, and the same bytes each time', async () => {
    const files = ['A/x.gpl', 'a/X.GPL', 'a/x.gpl'].map((path) => ({ path, bytes: gpl }));
    const zip = pack(files);
    expect((await take(zip)).map((i) => i.path)).toEqual([
      'given.zip/A/x.gpl',
      'given.zip/a/X 2.GPL',
      'given.zip/a/x 3.gpl',
    ]);
    expect(pack(files)).toEqual(zip);
  });
});
