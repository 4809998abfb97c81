import 'fake-indexeddb/auto';
import { describe, expect, it } from 'vitest';
import type { MeasuredInk } from '#core/reading/model';
import { checkReadings } from './checks';
import { ReadingsStore } from './readings-store';
import { Shelf } from './shelf';

const ink = (name: string): MeasuredInk => ({
  name,
  conditions: { mode: 'M1', operator: 'J. on the press' },
  steps: [
    {
      percent: 100,
      backing: 'white',
      name: `${name} 100`,
      spectrum: { start: 380, step: 10, values: Array.from({ length: 36 }, (_, i) => i / 40) },
    },
  ],
});

describe('measured inks', () => {
  it('are kept as they may be read again, with what is written of them', async () => {
    const shelf = new Shelf('readings-test');
    const store = new ReadingsStore(shelf);
    store.add([ink('Orange'), ink('Blue')], 'lifebuoy.txt');
    const [first] = store.snapshot().inks;
    store.describe(first!.id, { ...first!.facts, code: 'KM-0417' });
    store.rename(first!.id, 'Lifebuoy orange');
    store.saveNow();
    expect(checkReadings(store.snapshot())).toEqual(store.snapshot());
    const later = new ReadingsStore(shelf);
    await expect.poll(() => shelf.get('notes', 'readings')).toBeTruthy();
    await later.restore();
    expect(later.snapshot()).toEqual(store.snapshot());
    expect(later.snapshot().inks[0]!.facts).toEqual({
      code: 'KM-0417',
      mode: 'M1',
      operator: 'J. on the press',
    });
  });

  it('come back to their place when one was removed', () => {
    const store = new ReadingsStore(new Shelf('readings-other'));
    store.add([ink('Orange'), ink('Blue'), ink('Green')], 'x');
    const names = () => store.snapshot().inks.map((r) => r.ink.name);
    const back = store.remove(store.snapshot().inks[1]!.id);
    expect(names()).toEqual(['Orange', 'Green']);
    back();
    expect(names()).toEqual(['Orange', 'Blue', 'Green']);
    // what waits to be written down is not left to the tests that follow
    store.saveNow();
  });
});
