import { describe, expect, it } from 'vitest';
import type { Summary } from '#server/libraries';
import { addressOf, daysLeft, placeOf, shelvesOf, shownAt } from './places';

const library = (name: string, more: Partial<Summary> = {}): Summary => ({
  ...{ id: name, name, seq: 1, band: [], swatchCount: 1, groupCount: 0, changedAt: new Date(0) },
  ...{ archivedAt: null, shelves: [] },
  ...more,
});
const all = [
  library('Sail 10', { shelves: ['Ferry', 'Spring'], swatchCount: 3, changedAt: new Date(3) }),
  library('Sail 9', { shelves: ['Ferry'], swatchCount: 9, changedAt: new Date(1) }),
  library('Old hull', { shelves: ['Spring'], archivedAt: new Date(2), swatchCount: 5 }),
];
const names = (...at: Parameters<typeof shownAt>) => shownAt(...at).map((l) => l.name);

describe('the libraries of a place', () => {
  it('are those on a shelf, those in the archive, or the others, in the order asked for', () => {
    expect(names(all, { in: 'all' }, 'newest', false)).toEqual(['Sail 10', 'Sail 9']);
    expect(names(all, { in: 'all' }, 'name', false)).toEqual(['Sail 9', 'Sail 10']);
    expect(names(all, { in: 'all' }, 'size', false)).toEqual(['Sail 9', 'Sail 10']);
    expect(names(all, { in: 'shelf', name: 'Spring' }, 'newest', false)).toEqual(['Sail 10']);
    expect(names(all, { in: 'archive' }, 'newest', false)).toEqual(['Old hull']);
  });

  it('are found in the archive, too', () => {
    expect(names(all, { in: 'shelf', name: 'Spring' }, 'name', true)).toEqual(['Old hull', 'Sail 10']);
  });

  it('count on a shelf unless they are archived, and keep it there', () => {
    expect(shelvesOf(all)).toEqual([
      { name: 'Ferry', count: 2 },
      { name: 'Spring', count: 1 },
    ]);
  });

  it('have an address, whatever the shelf is called', () => {
    const search = new URLSearchParams('q=red&sort=name');
    const address = addressOf({ in: 'shelf', name: 'A & B / ü' }, search);
    expect(placeOf(new URL(address, 'http://x').searchParams)).toEqual({
      place: { in: 'shelf', name: 'A & B / ü' },
      sort: 'name',
    });
    expect(addressOf({ in: 'all' }, new URLSearchParams('in=bin'))).toBe('/');
  });

  it('stay in the bin for their days', () => {
    const now = new Date('2026-12-01T12:00:00Z');
    const gone = (iso: string) => daysLeft({ deletedAt: new Date(iso) }, 30, now);
    expect([
      gone('2026-12-01T11:00:00Z'),
      gone('2026-11-11T12:00:00Z'),
      gone('2026-10-01T00:00:00Z'),
    ]).toEqual([30, 10, 0]);
  });
});
