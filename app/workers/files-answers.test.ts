import { unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { ase } from '#core/formats/ase/ase';
import { openSwatchFile } from '#core/formats/index';
import { countingIds, countSwatches, type Library } from '#core/swatch/index';
import { fleet, libraryOf } from '#core/testing';
import { piecesOf } from '~/messages/pieces';
import { localServices } from '../../cli/engine.ts';
import { fileAnswers } from './files-answers';

const services = await localServices();

const answers = fileAnswers(services, {
  condition: async () => services.condition,
  bring: async () => undefined,
  bytesOf: async () => null,
});
const stages: string[] = [];
const context = { stage: (text: string) => void stages.push(text), breathe: async () => undefined };
const file = (name: string, bytes: Uint8Array<ArrayBuffer> | string) => ({
  file: new File([bytes], name),
  path: name,
});
/** Brings a library to the worker as the page does. */
const hold = async (library: Library) => {
  for (const piece of piecesOf(library, null)) await answers.hold(structuredClone(piece), context);
};
const read = (...files: ReturnType<typeof file>[]) => answers.read({ files, text: false }, context);

describe('the files worker', () => {
  it('tells swatch files, pictures, archives and damaged ones apart, by what is in them', async () => {
    const png = await sharp({ create: { width: 2, height: 2, channels: 3, background: '#2f7d6b' } })
      .png()
      .toBuffer();
    const came = await read(
      file('fleet.bin', ase.encode(fleet, services)),
      file('picture.txt', new Uint8Array(png)),
      file('both.zip', new Uint8Array(zipSync({ 'a/one.hex': new TextEncoder().encode('#8a1c24\n') }))),
      file('torn.ase', 'ASEF\0'),
      file('nothing', ''),
    );
    expect(came.map((c) => [c.kind, c.path])).toEqual([
      ['swatches', 'fleet.bin'],
      ['picture', 'picture.txt'],
      ['swatches', 'both.zip/a/one.hex'],
      ['problem', 'torn.ase'],
      ['problem', 'nothing'],
    ]);
    expect(stages.at(-1)).toBe('Reading 5 of 5: nothing');
  });

  it('refuses what is too large before it is read', async () => {
    const large = {
      file: Object.defineProperty(new File(['x'.repeat(64)], 'film'), 'size', { value: 80e6 }),
      path: 'film',
    };
    const [told] = await answers.read({ files: [large], text: false }, context);
    expect(told).toMatchObject({ kind: 'problem', message: expect.stringMatching(/film: .*80 MB/) });
  });

  it('goes on when a file goes away under its hands', async () => {
    const gone = {
      file: Object.assign(new File([], 'gone.ase'), {
        slice: () => Object.assign(new Blob(), { arrayBuffer: () => Promise.reject(new Error('gone')) }),
      }),
      path: 'gone.ase',
    };
    const came = await answers.read({ files: [gone, file('x.hex', '#112233')], text: false }, context);
    expect(came.map((c) => c.kind)).toEqual(['problem', 'swatches']);
  });

  it('writes one file as it is and several as a zip', async () => {
    const one = await answers.write({ library: fleet, choice: { format: 'ase' } }, context);
    expect(one.name).toBe('Fleet livery.ase');
    expect(countSwatches((await openSwatchFile(one.bytes, one.name, countingIds())).library)).toBe(5);
    const several = await answers.write(
      { library: fleet, choice: { format: 'gpl', perGroup: true } },
      context,
    );
    expect(Object.keys(unzipSync(several.bytes))).toEqual([
      'Fleet livery, no group.gpl',
      'Fleet livery, Hull.gpl',
    ]);
  });

  it('converts many into many, a folder for each format', async () => {
    const { bytes } = await answers.convert(
      { libraries: [fleet, { ...fleet, name: 'Other' }], formats: [{ format: 'ase' }, { format: 'hex' }] },
      context,
    );
    expect(Object.keys(unzipSync(bytes)).sort()).toEqual([
      'ASE/Fleet livery.ase',
      'ASE/Other.ase',
      'Hex list/Fleet livery.hex',
      'Hex list/Other.hex',
    ]);
  });

  it('finds what changes, with the fonts it is given where a format sets type', async () => {
    await hold(fleet);
    const pdf = await answers.changes({ choice: { format: 'pdf' } }, context);
    expect([pdf.head.total, pdf.rows.length]).toEqual([5, 5]);
    const hex = await answers.changes({ choice: { format: 'hex' } }, context);
    expect(hex.rows[0]!.what).toMatch(/the name is not carried/);
  });

  it('compares the library it was asked about, though another one arrives meanwhile', async () => {
    await hold(fleet);
    const first = answers.changes({ choice: { format: 'hex' } }, context);
    await hold(libraryOf('Other', { '': [['One', '#112233']] }));
    expect((await first).head.total).toBe(5);
    expect((await answers.changes({ choice: { format: 'hex' } }, context)).head.total).toBe(1);
  });

  it('gives the rows of a long report a page at a time, those that change first', async () => {
    const many = libraryOf('Many', {
      '': Array.from({ length: 450 }, (_, i) => [i % 2 ? `Rope ${i}` : '', `#${String(100_000 + i)}`]),
    });
    await hold(many);
    const { report, head, rows } = await answers.changes({ choice: { format: 'hex' } }, context);
    expect(head).toMatchObject({ changed: 225, total: 450, stay: true });
    const rest = [
      ...(await answers.rows({ report, from: 200 }, context))!,
      ...(await answers.rows({ report, from: 400 }, context))!,
    ];
    const all = [...rows, ...rest];
    expect(all.length).toBe(450);
    expect(all.map((r) => r.what !== '')).toEqual(all.map((_, i) => i < 225));
    expect(all.at(-1)).toMatchObject({ label: '#100448', left: '#100448', right: '#100448' });
    // a report stays for the page that shows it while the next ones are made, but not for ever
    for (let i = 0; i < 3; i++) {
      expect((await answers.rows({ report, from: 200 }, context))?.length).toBe(200);
      await answers.changes({ choice: { format: 'act' } }, context);
    }
    expect(await answers.rows({ report, from: 200 }, context)).toBeNull();
  });

  it('says each file of a kit while it makes it', async () => {
    stages.length = 0;
    const kit = await answers.kit(
      {
        library: fleet,
        choices: {
          scope: { what: 'library' },
          destinations: [{ id: 'drawing', files: [{ format: 'ase' }] }],
        },
        revision: 3,
        takenAt: '2026-11-26T08:00:00Z',
      },
      context,
    );
    expect(kit.files).toBe(1);
    expect(stages.join()).toMatch(/1 of 3: Vector drawing\/Fleet livery\.ase/);
  });
});
