import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { plainAsked } from '#core/harmony/index';
import { HarmonyStore } from './harmony-store';
import { Shelf } from './shelf';

let shelf: Shelf;
beforeEach(() => {
  vi.stubGlobal('indexedDB', new IDBFactory());
  shelf = new Shelf();
});
const red = plainAsked({ space: 'rgb', components: [0.7, 0.15, 0.17] }, 'Hull red');
const names = (store: HarmonyStore) => store.snapshot().takes.map((t) => t.name ?? t.asked.rule);

describe('the harmony store', () => {
  it('keeps takes, areas and the scale through a reload', async () => {
    const store = new HarmonyStore(shelf);
    store.begin(red);
    store.again();
    store.ask({ rule: 'triadic' });
    store.change({ areas: { '0': 0.6 } });
    store.scale({ steps: 7, through: [{ color: red.bases[0]!.color, name: 'Hull red' }] });
    store.show('scale');
    store.saveNow();
    const later = new HarmonyStore(shelf);
    await vi.waitFor(async () => {
      await later.restore();
      expect(names(later)).toEqual(['split', 'triadic']);
    });
    expect(later.take!.areas).toEqual({ '0': 0.6 });
    expect([later.snapshot().view, later.snapshot().scale.steps]).toEqual(['scale', 7]);
  });

  it('takes a take away and brings it back in its place, and renames', () => {
    const store = new HarmonyStore(shelf);
    store.begin(red);
    store.begin({ ...red, rule: 'square' });
    store.begin({ ...red, rule: 'triadic' });
    const [, middle] = store.snapshot().takes;
    store.choose(middle!.id);
    const back = store.remove(middle!.id);
    expect(names(store)).toEqual(['split', 'triadic']);
    expect(store.take!.asked.rule).toBe('triadic');
    back();
    back();
    expect(names(store)).toEqual(['split', 'square', 'triadic']);
    expect(store.take!.id).toBe(middle!.id);
    store.rename(middle!.id, 'Livery');
    expect(names(store)[1]).toBe('Livery');
    store.rename(middle!.id, '');
    expect(names(store)[1]).toBe('square');
  });

  it('starts empty where what is kept is of another version, or damaged', async () => {
    await shelf.put('notes', { takes: [{ id: 'x', asked: { rule: 7 } }] }, 'harmony');
    const store = new HarmonyStore(shelf);
    await store.restore();
    expect(store.snapshot().takes).toEqual([]);
  });
});
