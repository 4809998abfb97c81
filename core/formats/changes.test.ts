import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { parseColor } from '../color/index.ts';
import type { Library, Swatch } from '../swatch/model.ts';
import { fleet, libraryOf } from '../testing.ts';
import {
  type Change,
  changes,
  changesInParts,
  compareLibraries,
  describeChange,
  formatById,
  inspection,
  summarize,
} from './index.ts';

const services = await localServices();

const gpl = formatById('gpl');
const one = (swatch: Partial<Swatch>): Library => ({
  id: 'l',
  name: 'Hull',
  groups: [
    {
      id: 'g',
      name: '',
      swatches: [{ id: 's', name: 'Red', kind: 'process', color: parseColor('#8a1c24'), ...swatch }],
    },
  ],
});
/** What is reported one swatch that arrives otherwise. */
const between = (here: Partial<Swatch>, there: Partial<Swatch>) =>
  compareLibraries(one(here), one(there), gpl, services.condition).changes.map(describeChange);

describe('what changes, in words', () => {
  it.each<[string, Partial<Swatch>, Partial<Swatch>, string]>([
    ['a name cut away', {}, { name: '' }, 'the name is not carried'],
    ['a name altered', {}, { name: 'red' }, 'the name becomes “red”'],
    ['a spot', { kind: 'spot' }, {}, 'spot becomes process'],
    [
      'a technical as a spot',
      { kind: 'technical' },
      { kind: 'spot' },
      'technical becomes spot; the exact name is kept',
    ],
    ['a global', { global: true }, {}, 'no longer global'],
    ['opacity', { alpha: 0.5 }, {}, 'opacity 50 % becomes 100 %'],
    ['a role', { role: 'sky' }, {}, 'role “sky” is not carried'],
    ['a code altered', { code: 'KF 204' }, { code: 'KF204' }, 'code “KF 204” becomes “KF204”'],
    ['a note that comes from nowhere', {}, { note: 'x' }, 'it gets the note “x”'],
    [
      'a measured spectrum',
      { spectrum: { start: 380, step: 10, values: [1] } },
      {},
      'the measured spectrum is not carried',
    ],
    [
      'values in other spaces',
      { alternates: [parseColor('C 1 M 2 Y 3 K 4')] },
      {},
      'its values in other colour spaces are not carried',
    ],
    ['empty places', { gap: 2 }, {}, 'the empty places before it are not kept'],
    [
      'another space',
      { color: parseColor('C 20 M 0 Y 80 K 0') },
      { color: parseColor('#ccff33') },
      'C 20  M 0  Y 80  K 0 becomes R 204  G 255  B 51',
    ],
    [
      'rounded numbers',
      { color: { space: 'rgb', components: [0.5, 0, 0] } },
      { color: { space: 'rgb', components: [128 / 255, 0, 0] } },
      'numbers are rounded',
    ],
  ])('%s', (_, here, there, words) => {
    expect(between(here, there)).toEqual([words]);
  });

  it('says nothing of the noise of 32-bit floats', () => {
    const color = { space: 'lab' as const, components: [40.1, 57.2, 33.3] };
    expect(
      between({ color }, { color: { ...color, components: color.components.map(Math.fround) } }),
    ).toEqual([]);
  });

  it('tells of groups that go, come or change their name', () => {
    const words = (before: string, after: string) =>
      describeChange({ swatch: '', id: '', what: 'group', before, after } as Change);
    expect(words('Hull', 'no group')).toBe('the group “Hull” is not carried');
    expect(words('no group', 'Hull')).toBe('it comes in a group “Hull”');
    expect(words('Hull', 'Hull 2')).toBe('the group “Hull” becomes “Hull 2”');
  });
});

describe('order', () => {
  const colors: [string, string][] = [
    ['a', '#110000'],
    ['b', '#220000'],
    ['c', '#330000'],
  ];
  const here = libraryOf('x', { '': colors });

  it('a file that brings the same swatches in another order is reported so, and pairs them rightly', () => {
    const there = libraryOf('x', { '': [colors[2], colors[0], colors[1]] });
    const report = compareLibraries(here, there, gpl, services.condition);
    expect(report.changes.map((c) => [c.swatch, c.what, describeChange(c)])).toEqual([
      ['a', 'order', 'it comes in place 2 instead of 1'],
      ['b', 'order', 'it comes in place 3 instead of 2'],
      ['c', 'order', 'it comes in place 1 instead of 3'],
    ]);
    expect(report.largestDeltaE00).toBe(0);
  });

  it('of equal swatches the first is taken first', () => {
    const twice = libraryOf('x', { '': [colors[0], colors[0]] });
    expect(compareLibraries(twice, twice, gpl, services.condition).changes).toEqual([]);
  });
});

describe('the sum of it', () => {
  it('is one sentence when nothing changes', async () => {
    const { title, detail } = summarize(
      await changes(libraryOf('x', { '': [['a', '#112233']] }), gpl, services),
    );
    expect(title).toBe('The swatch arrives exactly as it is');
    expect(detail).toBe('Colours stay.');
    expect(
      summarize(
        await changes(
          libraryOf('x', {
            '': [
              ['a', '#123'],
              ['b', '#456'],
            ],
          }),
          gpl,
          services,
        ),
      ).title,
    ).toBe('All 2 swatches arrive exactly as they are');
  });

  it('counts what changes and names what is lost', async () => {
    const { title, detail } = summarize(
      await changes({ ...fleet, columns: 3, note: 'x' }, formatById('soc'), services),
    );
    expect(title).toBe('4 of 5 swatches change on the way');
    expect(detail).toMatch(
      /^Largest difference ΔE00 \d\.\d\. Groups are lost\. Spot and technical kinds, roles, codes and notes do not arrive as they are\. Its note and the number of columns stay behind\.$/,
    );
  });

  it('names the swatches that no file has room for', async () => {
    const many = libraryOf('x', {
      '': Array.from({ length: 300 }, (_, i) => [`s${i}`, '#112233'] as [string, string]),
    });
    const report = await changes(many, formatById('act'), services);
    expect(summarize(report).detail).toMatch(/^44 swatches are left out\./);
    expect(describeChange(report.changes.find((c) => c.what === 'missing')!)).toBe(
      'left out: ACT holds at most 256',
    );
    expect(report.arrivals.at(-1)).toMatchObject({ there: null });
  });

  it('of several files adds up, and a file per group loses no group', async () => {
    const parts = [libraryOf('A', { '': [['a', '#111']] }), libraryOf('B', { '': [['b', 'Lab 40 10 10']] })];
    const report = await changesInParts(parts, gpl, services, true);
    expect([report.arrivals.length, report.changed, report.groupsLost]).toEqual([2, 1, false]);
  });
});

describe('inspection', () => {
  it('tells all of a swatch that is promised, and a null for no group', async () => {
    const found = inspection(fleet, gpl, ['odd'], services.condition);
    expect(found).toMatchObject({ format: 'gpl', name: 'Fleet livery', warnings: ['odd'] });
    expect(found.groups.map((g) => g.name)).toEqual([null, 'Hull']);
    expect(found.groups[1].swatches[0]).toEqual({
      name: 'Boot-top red',
      code: 'KF 204',
      kind: 'spot',
      space: 'lab',
      components: [40, 57, 33],
      hex: '#b2222d',
      lab: [40, 57, 33],
      role: 'waterline',
    });
  });

  it('says that a machine will not find a separation whose name a format changes', async () => {
    // MTL has no blanks in names
    const cut = one({ name: 'knife ONE', kind: 'technical' });
    const { detail } = summarize(await changes(cut, formatById('mtl'), services));
    expect(detail).toContain('looks for “knife ONE” will not find it: it is written “knife_ONE”');
    const kept = summarize(await changes(cut, formatById('ase'), services));
    expect(kept.detail).not.toContain('will not find it');
  });
});
