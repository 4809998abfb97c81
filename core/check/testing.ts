import { checkLibrary } from '../swatch/checks.ts';
import {
  ARTWORK,
  type ArtworkItem,
  COLORWAY,
  countingIds,
  type Library,
  LibraryRows,
  type Swatch,
  type Wish,
  withLinks,
} from '../swatch/index.ts';
import { coated, libraryOf } from '../testing.ts';
import { checkById, type Found, fix, runCheck } from './index.ts';

export const run = (
  id: string,
  library: Library,
  options = {},
  more: Partial<Parameters<typeof runCheck>[3]> = {},
) => runCheck(checkById(id)!, library, { [id]: options }, { condition: coated, ...more });
export const called = ({ findings }: Found) => findings.map((f) => f.name);
export const withRoles = (library: Library, roles: Record<string, string>): Library => ({
  ...library,
  groups: library.groups.map((g) => ({
    ...g,
    swatches: g.swatches.map((s) => (roles[s.name] ? { ...s, role: roles[s.name]! } : s)),
  })),
});
/** The library after the nth fix of a finding. */
export function fixed(library: Library, found: Found, finding = 0, nth = 0): Library {
  const rows = LibraryRows.of(library);
  const one = found.findings[finding]!;
  rows.apply(fix(rows, one, one.fixes[nth]!, countingIds('new-')).ops);
  return checkLibrary(rows.library);
}

const asset = 'cd'.repeat(32);
/** A library whose swatches a drawing is painted with. */
export const base = libraryOf('Works', {
  Hull: [
    ['Navy', '#14304a'],
    ['Cutting', '#ef6a18'],
    ['White', '#bbbbbb'],
  ],
});
export const [navy, cutting, white] = base.groups[0]!.swatches as [Swatch, Swatch, Swatch];
cutting.kind = 'technical';
white.kind = 'technical';
export const work: ArtworkItem = {
  ...{ id: 'work', kind: ARTWORK, name: 'plate.svg', refs: [] },
  data: {
    ...{ asset, form: 'drawing', parts: 4, width: 85, height: 55, unit: 'mm', count: 3 },
    colors: [
      { hex: '#15304b', name: 'hull', parts: 1, fills: 1 },
      { hex: '#aaaaaa', name: 'underprint', parts: 1, fills: 1 },
      { hex: '#ff0000', name: 'holes', parts: 2, fills: 2 },
    ],
  },
};
/** With a colourway of the drawing that has these links. */
export const withWay = (links: Record<string, Wish>, library = base): Library => ({
  ...library,
  items: [
    work,
    {
      ...{ id: 'way', kind: COLORWAY, name: 'Night' },
      ...withLinks({ refs: [], data: { artwork: 'work', links: {} } }, links),
    },
  ],
});
