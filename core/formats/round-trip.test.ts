import { describe, expect, it } from 'vitest';
import { fromRgb8 } from '../color/index.ts';
import { allSwatches, countingIds, type Library, LibraryRows } from '../swatch/index.ts';
import { fleet, services } from '../testing.ts';
import { formatById } from './index.ts';
import { editsOf, roundTrip } from './round-trip.ts';
import { type RoundTrip, takeBack } from './take-back.ts';

const all = services as never;

/** The file as another program reads it, edits it and saves it. */
async function returned(format: string, edit: (library: Library) => void): Promise<Library> {
  const one = formatById(format);
  const { library } = await one.decode(await one.encode(fleet, all), countingIds('other-'));
  edit(library);
  const again = await one.decode(await one.encode(library, all), countingIds('back-'));
  return again.library;
}
const everything = (trip: RoundTrip) => ({
  edited: new Set(trip.edited.map((e) => e.id)),
  added: new Set(trip.added.keys()),
  removed: new Set(trip.removed),
});
const FORMATS = ['ase', 'gpl', 'css', 'csv', 'cxf', 'aco', 'papillon'];

describe('a file that comes back', () => {
  it.each(FORMATS)('as %s, only saved again elsewhere, has no edits', async (format) => {
    const trip = await roundTrip(fleet, { format }, await returned(format, () => {}), all);
    expect(trip).toEqual({ edited: [], added: [], removed: [] });
  });

  it.each(FORMATS)('as %s, brings what was recoloured and taken out, and nothing else', async (format) => {
    const ours = allSwatches(fleet);
    const back = await returned(format, (library) => {
      const swatches = allSwatches(library);
      swatches[1]!.color = fromRgb8(1, 130, 90);
      delete swatches[1]!.spectrum;
      delete swatches[1]!.alternates;
      const last = library.groups.findLast((g) => g.swatches.length > 0)!;
      last.swatches.pop();
    });
    const trip = await roundTrip(fleet, { format }, back, all);
    expect(trip.edited.map((e) => [e.id, !!e.color])).toEqual([[ours[1]!.id, true]]);
    expect([trip.removed, trip.added]).toEqual([[ours.at(-1)!.id], []]);
    const rows = LibraryRows.of(fleet);
    rows.apply(takeBack(rows, trip, everything(trip), countingIds('n'), 'fleet').ops);
    const now = allSwatches(rows.library);
    // what the format cannot carry is as it was
    expect(now.slice(2)).toEqual(ours.slice(2, -1));
    const { color: _, ...rest } = now[1]!;
    const { color: __, ...was } = ours[1]!;
    expect(rest).toEqual(was);
  });

  it('brings what was renamed, renamed and recoloured at once, and put in', async () => {
    const ours = allSwatches(fleet);
    const back = await returned('ase', (library) => {
      const swatches = allSwatches(library);
      swatches[0]!.name = 'Another name';
      swatches[2]!.name = 'All of it another';
      swatches[2]!.color = fromRgb8(250, 10, 240);
    });
    const trip = await roundTrip(fleet, { format: 'ase' }, back, all);
    expect(trip.edited.map((e) => [e.id, e.name?.to, !!e.color])).toEqual([
      [ours[0]!.id, 'Another name', false],
      [ours[2]!.id, 'All of it another', true],
    ]);
    const more = await returned('ase', (library) => {
      library.groups
        .at(-1)!
        .swatches.push({ id: 'x', name: 'Put in', kind: 'process', color: fromRgb8(3, 4, 5) });
    });
    const added = await roundTrip(fleet, { format: 'ase' }, more, all);
    expect([added.edited, added.removed]).toEqual([[], []]);
    const rows = LibraryRows.of(fleet);
    rows.apply(takeBack(rows, added, everything(added), countingIds('n'), 'fleet').ops);
    expect(rows.library.groups.at(-1)!.swatches.at(-1)!.name).toBe('Put in');
  });

  it('is the right swatch’s where the format leaves some out', () => {
    const [first, ...rest] = allSwatches(fleet);
    const file = (prefix: string, edit: (name: string, i: number) => string): Library => ({
      id: prefix,
      name: '',
      groups: [
        {
          id: 'g',
          name: '',
          swatches: rest.map((s, i) => ({ ...s, id: `${prefix}${i}`, name: edit(s.name, i) })),
        },
      ],
    });
    const back = file('b', (name, i) => (i === 1 ? 'Edited' : name));
    const trip = editsOf(
      fleet,
      file('w', (name) => name),
      back,
      services.condition,
    );
    expect(trip.edited.map((e) => [e.id, e.name!.to])).toEqual([[rest[1]!.id, 'Edited']]);
    expect([trip.removed, trip.added, first!.id]).toEqual([[], [], first!.id]);
  });

  it('leaves out swatches that have been deleted here, and takes only what is chosen', async () => {
    const back = await returned('ase', (library) => {
      for (const s of allSwatches(library)) s.name = `${s.name} elsewhere`;
    });
    const trip = await roundTrip(fleet, { format: 'ase' }, back, all);
    const [first, second, third] = allSwatches(fleet);
    const rows = LibraryRows.of(fleet);
    rows.apply([{ op: 'drop', of: 'swatch', id: first!.id }]);
    const wanted = {
      edited: new Set([first!.id, second!.id]),
      added: new Set<number>(),
      removed: new Set<string>(),
    };
    rows.apply(takeBack(rows, trip, wanted, countingIds('n'), 'fleet').ops);
    expect(rows.find(first!.id)).toBeUndefined();
    expect(rows.find(second!.id)!.swatch.name).toBe(`${second!.name} elsewhere`);
    expect(rows.find(third!.id)!.swatch.name).toBe(third!.name);
  });
});
