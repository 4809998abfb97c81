import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { countingIds, countSwatches } from '../swatch/model.ts';
import { fleet } from '../testing.ts';
import {
  destinations,
  formatById,
  type Intake,
  makeKit,
  openSwatchFile,
  pack,
  richerThan,
  takeIn,
  usualFiles,
} from './index.ts';

const services = await localServices();
const list = async (bytes: Uint8Array, name = 'x.zip') => {
  const all: Intake[] = [];
  for await (const one of takeIn(bytes, name, countingIds())) all.push(one);
  return all;
};
const library = { ...fleet, name: 'Fleet' };
const { bytes: kit } = await makeKit(
  library,
  {
    scope: { what: 'library' },
    destinations: destinations.map((d) => ({ id: d.id, files: usualFiles(d, library) })),
  },
  { revision: 3, takenAt: '2026-11-30T09:00:00Z' },
  services,
);

describe('a kit that comes back', () => {
  it('is one library under its own name, with all it had, and reports the other files', async () => {
    const all = await list(kit);
    const [first, ...more] = all.filter((one) => one.kind === 'swatches');
    expect(more).toEqual([]);
    expect(first!.opened.library.name).toBe('Fleet');
    expect(countSwatches(first!.opened.library)).toBe(countSwatches(library));
    expect(first!.opened.library.groups.map((g) => g.name)).toEqual(library.groups.map((g) => g.name));
    expect(all.filter((one) => one.kind === 'skipped').length).toBeGreaterThan(10);
  });

  it('is found in a folder, too, as an unpacked kit is packed again', async () => {
    const entries = Object.entries(unzipSync(kit)).map(([path, bytes]) => ({
      path: `Fleet kit/${path}`,
      bytes,
    }));
    expect((await list(pack(entries))).filter((one) => one.kind === 'swatches').length).toBe(1);
  });

  it('that was changed by hand is an archive like others', async () => {
    const entries = Object.entries(unzipSync(kit)).map(([path, bytes]) => ({
      path,
      // what is not as it was listed is not trusted
      bytes: path.endsWith('manifest.json') ? bytes : Uint8Array.from([...bytes, 10]),
    }));
    expect((await list(pack(entries))).filter((one) => one.kind === 'swatches').length).toBeGreaterThan(3);
  });

  it('a manifest of something else means nothing', async () => {
    const hex = new TextEncoder().encode('#b3262b Red\n#14304a Navy\n');
    for (const manifest of ['{"name":"x"}', 'not JSON', '{"library":"x","files":[{"path":"../a"}]}'])
      expect(
        (
          await list(
            pack([
              { path: 'manifest.json', bytes: new TextEncoder().encode(manifest) },
              { path: 'a.txt', bytes: hex },
            ]),
          )
        ).map((one) => one.kind),
      ).toContain('swatches');
  });
});

describe('the same colours in several formats', () => {
  const opened = async (format: string, of = library) =>
    openSwatchFile(await formatById(format).encode(of, services), `a.${format}`, countingIds());
  const came = async (ids: string[]) =>
    Promise.all(ids.map(async (id) => ({ format: id, library: (await opened(id)).library })));

  it('are taken from the richest', async () => {
    // names, groups and kinds are in ASE; in GPL names alone; in HEX not even those
    expect(richerThan(await came(['hex', 'gpl', 'ase']), services.condition)).toEqual([2, 2, null]);
    expect(richerThan(await came(['papillon', 'aco']), services.condition)).toEqual([null, 0]);
  });

  it('others are all taken', async () => {
    const other = { ...library, groups: library.groups.slice(0, 1) };
    const two = [
      { format: 'ase', library: (await opened('ase')).library },
      { format: 'gpl', library: (await opened('gpl', other)).library },
    ];
    expect(richerThan(two, services.condition)).toEqual([null, null]);
    // two files of one format are two files
    expect(richerThan(await came(['ase', 'ase']), services.condition)).toEqual([null, null]);
  });
});
